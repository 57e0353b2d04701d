/** A column's header taken apart: its name, and the unit that stands in brackets, as the last word, or after an underscore. */
import { channelKind } from '../channels/canonical.ts';
import { candidatesByName } from '../channels/names.ts';
import { parseUnit, type Unit } from '../units/units.ts';
import { isTimeName } from './names.ts';

export interface Header {
	name: string;
	/** Unit as written; empty when none is. */
	unit: string;
}

/**
 * `Boost [psi]`, `Boost (psi)`, `Boost psi`, `MAP_kPa` → name and unit. Brackets that don't hold a known unit stay in the name, and a
 * last word is a unit only when the rest names something that can have it: `AFR Bank 1 AFR` has one, `Target AFR` has none.
 */
export function splitHeader(cell: string): Header {
	const m = /^(.*?)\s*[[(]([^\][()]*(?:\([ag]\))?)[\])]\s*$/.exec(cell);
	if (!m) return lastWord(cell);
	const [, name = '', unit = ''] = m;
	const square = cell.trimEnd().endsWith(']');
	if (!name || (!square && unit.trim() && !parseUnit(unit))) return { name: cell, unit: '' };
	return { name, unit: unit.trim() };
}

/** Tried with two words first: `Boost psi gauge`. */
function lastWord(cell: string): Header {
	for (const pattern of [/^(.+?)[\s_]+(\S+?[\s_]+(?:gauge|abs(?:olute)?))$/i, /^(.+)[\s_]+(\S+)$/]) {
		const [, name = '', unit = ''] = pattern.exec(cell.trim()) ?? [];
		const known = parseUnit(unit.replace(/_/g, ' '));
		if (known && canHave(name, known)) return { name: name.trim(), unit };
	}
	return { name: cell, unit: '' };
}

function canHave(name: string, unit: Unit): boolean {
	if (isTimeName(name)) return unit.quantity === 'time' || unit.id === 'ms' || unit.id === 'µs';
	return candidatesByName(name).some(({ id }) => {
		const { quantity } = channelKind(id);
		return quantity === unit.quantity || (quantity === 'temperature' && unit.id === '°');
	});
}

/**
 * Which columns are clocks, and of which others: −1 for no clock, −2 for a clock of the file or of the columns after it, else the
 * index of the one column that it belongs to (`Engine Speed Time` beside `Engine Speed`).
 */
export function clockOf(names: readonly string[]): Int32Array {
	const out = new Int32Array(names.length).fill(NO_CLOCK);
	const at = new Map(names.map((n, i) => [plainly(n), i]));
	names.forEach((name, i) => {
		if (isTimeName(name)) {
			out[i] = COMMON_CLOCK;
			return;
		}
		const rest = /^(?:(.+) time(?:stamp)?|time(?:stamp)?(?: of)? (.+))$/.exec(plainly(name));
		const of = rest && at.get((rest[1] ?? rest[2])!);
		if (of !== undefined && of !== null && of !== i) out[i] = of;
	});
	return out;
}

export const NO_CLOCK = -1;
export const COMMON_CLOCK = -2;

const plainly = (name: string): string =>
	name
		.toLowerCase()
		.replace(/[_\-.()[\]:\s]+/g, ' ')
		.trim();
