/**
 * A log in canonical channels: typed columns, never objects per sample.
 * Values are in the canonical unit of their channel, NaN where the file has nothing.
 */
import {
	isPrivate,
	recogniseColumns,
	type Assignment,
	type ColumnFacts,
	type RecogniseContext
} from '../channels/recognise.ts';
import { channelKind } from '../channels/canonical.ts';
import { InputError } from '../input-error.ts';
import { extremes, median, quantileSorted, thinned } from '../stats/stats.ts';
import { CANONICAL_UNIT } from '../units/units.ts';
import { isTimeName, type RawTable } from './table.ts';

export interface LogChannel {
	id: string;
	/** Column name and unit as in the file. */
	raw: string;
	rawUnit: string;
	/** Canonical unit of `values`. */
	unit: string;
	/** What was done to the raw values, in words; empty when nothing. */
	note: string;
	source: 'recognised' | 'assigned';
	/** Seconds from the start of the log, ascending, one per value. Channels of one table share the array. */
	timeS: Float64Array;
	values: Float32Array;
	/** Median rate of the channel's own samples; 0 for fewer than two. */
	rateHz: number;
	/** Distinct texts of a text channel. */
	texts: string[];
}

export interface UnmappedColumn {
	raw: string;
	rawUnit: string;
	min: number;
	max: number;
	/** Left out because it identifies people or places. */
	private: boolean;
}

export interface Log {
	channels: LogChannel[];
	unmapped: UnmappedColumn[];
	rows: number;
	durationS: number;
	/** How the file was read, as far as a reader should know. */
	notes: string[];
}

export interface ReadContext extends RecogniseContext {
	remembered?: ReadonlyMap<string, Assignment>;
}

const FACT_SAMPLES = 4000;

function factsOf(table: RawTable): ColumnFacts[] {
	return table.columns.map((c) => {
		const { min, max } = extremes(c.values);
		return {
			name: c.name,
			unit: c.unit,
			min,
			max,
			median: median(thinned(c.values, FACT_SAMPLES)),
			textShare: table.rows ? c.textCells / table.rows : 0
		};
	});
}

/** Median step of an ascending time column in seconds; NaN when there is none. */
export function medianStep(timeS: Float64Array): number {
	const n = Math.min(timeS.length - 1, FACT_SAMPLES);
	if (n < 1) return Number.NaN;
	const steps = new Float64Array(n);
	for (let k = 0; k < n; k++) {
		const i = Math.floor((k * (timeS.length - 1)) / n);
		steps[k] = timeS[i + 1]! - timeS[i]!;
	}
	return quantileSorted(steps.sort(), 0.5);
}

/**
 * Seconds from 0, ascending. A clock that jumps back is a new recording and goes on after the last sample;
 * milliseconds are recognised by unit, else by the size of the steps.
 */
function timeBase(raw: Float64Array, unit: string, notes: string[]): Float64Array {
	const out = new Float64Array(raw.length);
	const step = medianStep(raw);
	const written = unit.trim().toLowerCase();
	const milli = /^(ms|msec|milliseconds)$/.test(written) || (written === '' && step >= 5);
	const micro = /^(us|µs|usec)$/.test(written);
	const scale = milli ? 0.001 : micro ? 1e-6 : 1;
	if (milli && written === '') notes.push('Time has no unit; its steps are milliseconds.');
	const usual = Number.isFinite(step) && step > 0 ? step * scale : 0.05;
	let shift = 0;
	let last = Number.NaN;
	let restarts = 0;
	let backward = 0;
	for (let i = 0; i < raw.length; i++) {
		let t = raw[i]! * scale + shift;
		if (t !== t) t = Number.isNaN(last) ? 0 : last + usual;
		else if (Number.isNaN(last)) {
			shift = -t;
			t = 0;
		} else if (t <= last) {
			if (last - t > Math.max(1, usual * 5)) {
				restarts++;
				shift += last + usual - t;
				t = last + usual;
			} else {
				backward++;
				t = last + usual * 1e-3;
			}
		}
		out[i] = t;
		last = t;
	}
	if (restarts)
		notes.push(
			`Time starts again ${restarts} time${restarts > 1 ? 's' : ''}: the recordings were set one after the other.`
		);
	if (backward)
		notes.push(
			`${backward} samples stand at or before their predecessor in time; they were kept in file order.`
		);
	return out;
}

/** Canonical log of a raw table. Scales the table's columns in place: the table is used up by this. */
export function logFromTable(table: RawTable, context: ReadContext): Log {
	const facts = factsOf(table);
	const readings = recogniseColumns(facts, context, context.remembered);
	const notes = [...table.notes];
	const timeAt = readings.findIndex((r) => r?.channel === 'time');
	const fallback = timeAt < 0 ? table.columns.findIndex((c) => isTimeName(c.name)) : timeAt;
	if (fallback < 0)
		throw new InputError(
			'no time column found: one column has to be named "time" (seconds, milliseconds, hh:mm:ss or ISO 8601)'
		);
	const timeColumn = table.columns[fallback]!;
	const raw =
		timeColumn.values instanceof Float64Array ? timeColumn.values : Float64Array.from(timeColumn.values);
	const timeS = timeBase(raw, timeColumn.unit, notes);
	const channels: LogChannel[] = [];
	const unmapped: UnmappedColumn[] = [];
	table.columns.forEach((column, i) => {
		if (i === fallback) return;
		const reading = readings[i];
		if (!reading) {
			unmapped.push({
				raw: column.name,
				rawUnit: column.unit,
				min: facts[i]!.min,
				max: facts[i]!.max,
				private: isPrivate(column.name)
			});
			return;
		}
		const values = column.values instanceof Float32Array ? column.values : Float32Array.from(column.values);
		const { scale, offset } = reading.conversion;
		if (scale !== 1 || offset !== 0)
			for (let k = 0; k < values.length; k++) values[k] = values[k]! * scale + offset;
		const channel: LogChannel = {
			id: reading.channel,
			raw: column.name,
			rawUnit: column.unit,
			unit: CANONICAL_UNIT[channelKind(reading.channel).quantity],
			note: reading.note,
			source: reading.source,
			timeS,
			values,
			rateHz: rateOf(timeS, values),
			texts: column.texts
		};
		channels.push(channel);
		if (/^knockRetard/.test(channel.id)) orientKnock(channel, channels);
	});
	const durationS = timeS.length ? timeS[timeS.length - 1]! : 0;
	return { channels, unmapped, rows: table.rows, durationS, notes };
}

/** Median rate of the samples that are there, from at most a few thousand gaps. */
function rateOf(timeS: Float64Array, values: Float32Array): number {
	const gaps: number[] = [];
	let last = Number.NaN;
	for (let i = 0; i < values.length && gaps.length < FACT_SAMPLES; i++) {
		if (values[i] !== values[i]) continue;
		if (last === last) gaps.push(timeS[i]! - last);
		last = timeS[i]!;
	}
	const step = median(gaps);
	return step > 0 ? Math.round(1000 / step) / 1000 : 0;
}

/**
 * Knock channels come with either sign. Never above zero: retard written as a negative correction, flipped. Both signs:
 * the negative part is retard, the positive part advance that the knock system added.
 */
function orientKnock(channel: LogChannel, all: LogChannel[]): void {
	const { min, max } = extremes(channel.values);
	if (!(min < 0)) return;
	const add = (text: string) => {
		channel.note = [channel.note, text].filter(Boolean).join('; ');
	};
	const v = channel.values;
	if (max <= 0) {
		for (let i = 0; i < v.length; i++) v[i] = v[i] === 0 ? 0 : -v[i]!;
		add('sign flipped: positive = pulled');
		return;
	}
	const advance = new Float32Array(v.length);
	for (let i = 0; i < v.length; i++) {
		const x = v[i]!;
		advance[i] = x !== x ? x : Math.max(0, x);
		v[i] = x !== x ? x : Math.max(0, -x);
	}
	add('both signs: negative part read as retard, positive part as advance');
	if (channel.id === 'knockRetard' && !all.some((c) => c.id === 'knockAdvance'))
		all.push({ ...channel, id: 'knockAdvance', values: advance, note: `positive part of ${channel.raw}` });
}
