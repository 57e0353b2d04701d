/** Sentences that carry quantities, as a reader with units of their own reads them. */
import { fixed, hasQuantities, signed, written } from '$core/format';
import { shown, type UnitChoice } from '$core/units/display';

/** A sentence with its quantities in the reader's units. */
export const inUnits = (text: string, choice: UnitChoice, fuelStoich?: number): string =>
	hasQuantities(text)
		? written(text, (q) => {
				const a = shown(q.value, q.unit, choice, fuelStoich);
				const value = q.difference ? a.value - shown(0, q.unit, choice, fuelStoich).value : a.value;
				// What nobody converts keeps the decimals that it was written with.
				const decimals =
					a.unit === q.unit || (q.unit === 'kPa abs' && a.unit === 'kPa') ? q.decimals : a.decimals;
				const number = q.signed ? signed(value, decimals) : fixed(value, decimals);
				return a.unit === 'λ' ? `λ ${number}` : `${number} ${a.unit}`;
			})
		: text;
