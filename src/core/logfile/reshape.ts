/**
 * From the flat columns of a file to columns with their time: one time column for all, an own time column in front of each group
 * (several rates in one table), or the long form with a row per value.
 */
import { InputError } from '../input-error.ts';
import { isChannelName, isTimeName, isUnitName, isValueName } from './names.ts';
import { splitHeader } from './sniff.ts';

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
}

/** @throws InputError when there is no time column, or hardly any row has a time */
export function reshape(table: FlatTable): RawTable {
	const long = longForm(table);
	if (long) return long;
	const timeAt = table.columns.flatMap((c, i) => (isTimeName(c.name) ? [i] : []));
	if (timeAt.length === 0)
		throw new InputError(
			'no time column found: one column has to be named "time" (seconds, milliseconds, hh:mm:ss or ISO 8601)'
		);
	// A second time column is an axis of its own only when channels follow it; a clock beside the time is just a column.
	const axes = timeAt.filter((at, k) => k === 0 || (timeAt[k + 1] ?? table.columns.length) > at + 1);
	const own = axes.length > 1 && axes[0] === 0;
	const used = own ? axes : axes.slice(0, 1);
	const notes = [...table.notes];
	const out: RawTable = { times: [], columns: [], rows: table.rows, notes };
	used.forEach((at, k) => {
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
		const until = own ? (used[k + 1] ?? table.columns.length) : table.columns.length;
		for (let c = own ? at + 1 : 0; c < until; c++) {
			if (c === at) continue;
			const column = table.columns[c]!;
			out.columns.push({
				...column,
				values: dropped ? Float32Array.from(keep, (i) => column.values[i]!) : column.values,
				time: k
			});
		}
	});
	if (own) notes.push(`${used.length} time columns: every group of channels keeps its own rate.`);
	return out;
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
