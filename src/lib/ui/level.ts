/** A level of the readiness sheet as its reader has it: a difference has no offset in other units. */
import { fixed } from '$core/format';
import type { OwnLevel } from '$core/screening/levels';
import type { Preferences } from './preferences.svelte';

export function levelText(
	preferences: Preferences,
	o: Pick<OwnLevel, 'unit' | 'by' | 'decimals'>,
	v: number
): string {
	const shown = preferences.shown(v, o.unit);
	const value = o.by ? shown.value - preferences.shown(0, o.unit).value : shown.value;
	return `${fixed(value, Math.max(o.decimals, shown.unit === o.unit ? 0 : shown.decimals))} ${shown.unit}`;
}
