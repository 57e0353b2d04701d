/**
 * From the flat columns of a file to columns with their time: one time column for all, an own time column for each column or in front
 * of each group (several rates in one table), or the long form with a row per value.
 */
import { InputError } from '../input-error.ts';
import { clockOf, COMMON_CLOCK, NO_CLOCK, splitHeader } from './header.ts';
import { LayoutError, type LayoutSeen } from './layout-error.ts';
import { isChannelName, isTimeName, isUnitName, isValueName } from './names.ts';

export interface FlatColumn {
	name: string;
	/** Unit as written in the file; empty when none was given. */
	unit: string;
	values: Float32Array | Float64Array;
	texts: string[];
	textCells: number;
}

export interface FlatTable {
	columns: FlatColumn[];
	rows: number;
	notes: string[];
}

export interface RawTime {
	name: string;
	unit: string;
	/** Raw clock values, every one finite. */
	values: Float64Array;
}

export interface RawColumn extends FlatColumn {
	/** Index of the time axis that the values stand on. */
	time: number;
}

export interface RawTable {
	times: RawTime[];
	columns: RawColumn[];
	rows: number;
	/** What a reader of the log should know about how it was read. */
	notes: string[];
	/** What was seen of a text's layout, and whether a person said how to read it. */
	seen?: LayoutSeen;
	byHand?: boolean;
}

/**
 * @param timeName the column that a person said is the clock; recognised by its name when missing
 * @throws LayoutError when there is no time column; InputError when hardly any row has a time
 */
export function reshape(table: FlatTable, timeName?: string): RawTable {
	const long = timeName === undefined ? longForm(table) : null;
	if (long) return long;
	const axes = axesOf(table, timeName);
	const own = axes.length > 1;
	const notes = [...table.notes];
	const out: RawTable = { times: [], columns: [], rows: table.rows, notes };
	// Columns stay in the order of the file, whichever clock they stand on.
	const placed: { at: number; column: RawColumn }[] = [];
	axes.forEach(({ at, columns }, k) => {
		const time = table.columns[at]!;
		const raw = time.values instanceof Float64Array ? time.values : Float64Array.from(time.values);
		const keep = finiteRows(raw);
		if (keep.length === 0) throw new InputError(`the time column "${time.name}" holds no readable time`);
		const dropped = raw.length - keep.length;
		if (!own && dropped > 0) {
			if (dropped > raw.length * 0.05)
				throw new InputError(
					`${dropped} of ${raw.length} rows have no readable time in the column "${time.name}"; export the log again`
				);
			notes.push(`${dropped} rows without a time (such as a repeated header) were left out.`);
		}
		out.times.push({ name: time.name, unit: time.unit, values: dropped ? pick64(raw, keep) : raw });
		for (const c of columns) {
			const column = table.columns[c]!;
			placed.push({
				at: c,
				column: {
					...column,
					values: dropped ? Float32Array.from(keep, (i) => column.values[i]!) : column.values,
					time: k
				}
			});
		}
	});
	out.columns = placed.sort((a, b) => a.at - b.at).map((p) => p.column);
	if (own) notes.push(`${axes.length} time columns: every group of channels keeps its own rate.`);
	return out;
}

interface Axis {
	/** The clock's column. */
	at: number;
	/** Columns that stand on it. */
	columns: number[];
}

/** The clocks of a table and what stands on each: a clock per column by their names, a clock in front of each group, or one for all. */
function axesOf(table: FlatTable, timeName: string | undefined): Axis[] {
	const names = table.columns.map((c) => c.name);
	const all = names.map((_, i) => i);
	if (timeName !== undefined) {
		const at = [timeName, splitHeader(timeName).name].map((n) => names.indexOf(n)).find((i) => i >= 0) ?? -1;
		if (at < 0) throw new LayoutError(`no column is called "${timeName}"`, { columns: names });
		return [{ at, columns: all.filter((i) => i !== at) }];
	}
	const clock = clockOf(names);
	for (const i of all) if (clock[i]! >= 0 && !ascending(table.columns[i]!.values)) clock[i] = NO_CLOCK;
	const paired = new Map(all.filter((i) => clock[i]! >= 0).map((i) => [clock[i]!, i]));
	const common = all.filter((i) => clock[i] === COMMON_CLOCK);
	if (paired.size === 0 && common.length === 0)
		throw new LayoutError('no time column found', { columns: names });
	// A second time column is an axis of its own only when channels follow it; a clock beside the time is just a column.
	const groups = common.filter((at, k) => k === 0 || (common[k + 1] ?? names.length) > at + 1);
	const grouped = paired.size > 0 || (groups.length > 1 && groups[0] === 0);
	if (!grouped) return [{ at: common[0]!, columns: all.filter((i) => i !== common[0]) }];
	const clocks = new Set([...paired.values(), ...groups]);
	const axes = new Map(
		[...clocks].sort((a, b) => a - b).map((at): [number, Axis] => [at, { at, columns: [] }])
	);
	let before = [...axes.keys()][0]!;
	for (const i of all) {
		if (clocks.has(i)) before = i;
		else axes.get(paired.get(i) ?? before)!.columns.push(i);
	}
	return [...axes.values()].filter((a) => a.columns.length > 0);
}

/** Whether a column runs like a clock: hardly ever backwards, and on in the end. */
function ascending(values: Float32Array | Float64Array): boolean {
	let last = Number.NaN;
	let first = Number.NaN;
	let steps = 0;
	let back = 0;
	for (const v of values) {
		if (v !== v) continue;
		if (first !== first) first = v;
		else steps++;
		if (v < last) back++;
		last = v;
	}
	return steps > 0 && last > first && back <= steps * 0.05;
}

function finiteRows(time: Float64Array): Int32Array {
	const out = new Int32Array(time.length);
	let n = 0;
	for (let i = 0; i < time.length; i++) if (Number.isFinite(time[i]!)) out[n++] = i;
	return out.subarray(0, n);
}

function pick64(values: Float64Array, rows: Int32Array): Float64Array {
	return Float64Array.from(rows, (i) => values[i]!);
}

/** A row per value: time, channel, value and perhaps its unit; `null` when the table is none. */
function longForm(table: FlatTable): RawTable | null {
	const at = (test: (name: string) => boolean) => table.columns.findIndex((c) => test(c.name));
	const time = at(isTimeName);
	const name = at(isChannelName);
	const value = at(isValueName);
	if (time < 0 || name < 0 || value < 0 || table.columns.length > 5) return null;
	const unit = at(isUnitName);
	const { texts } = table.columns[name]!;
	const which = table.columns[name]!.values;
	const clock = table.columns[time]!.values;
	const values = table.columns[value]!.values;
	const counts = new Int32Array(texts.length);
	for (let i = 0; i < table.rows; i++) if (which[i]! >= 0 && Number.isFinite(clock[i]!)) counts[which[i]!]!++;
	const times = Array.from(counts, (n) => new Float64Array(n));
	const columns = Array.from(counts, (n) => new Float32Array(n));
	const units = texts.map(() => '');
	const next = new Int32Array(texts.length);
	for (let i = 0; i < table.rows; i++) {
		const c = which[i]!;
		if (!(c >= 0) || !Number.isFinite(clock[i]!)) continue;
		const k = next[c]!++;
		times[c]![k] = clock[i]!;
		columns[c]![k] = values[i]!;
		if (unit >= 0 && k === 0) units[c] = table.columns[unit]!.texts[table.columns[unit]!.values[i]!] ?? '';
	}
	return {
		times: times.map((v) => ({
			name: table.columns[time]!.name,
			unit: table.columns[time]!.unit,
			values: v
		})),
		columns: texts.map((text, c) => {
			const head = splitHeader(text);
			return {
				name: head.name,
				unit: units[c] || head.unit,
				values: columns[c]!,
				texts: [],
				textCells: 0,
				time: c
			};
		}),
		rows: table.rows,
		notes: [...table.notes, `Long form: ${texts.length} channels with a row per value.`]
	};
}
