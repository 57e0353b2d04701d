/**
 * A log in canonical channels: typed columns, never objects per sample.
 * Values are in the canonical unit of their channel, NaN where the file has nothing.
 */
import { fixed, plural } from '../format.ts';
import { isPrivate } from '../channels/names.ts';
import type {
	ColumnFacts,
	Contradiction,
	RecogniseContext,
	Recognised,
	Undecided
} from '../channels/reading.ts';
import type { Moments } from '../channels/scene.ts';
import { recogniseColumns, type Assignment } from '../channels/recognise.ts';
import { channelKind } from '../channels/canonical.ts';
import { extremes, median, quantileSorted, thinned, type Extremes } from '../stats/stats.ts';
import { CANONICAL_UNIT, type Conversion } from '../units/units.ts';
import { oriented, PULLED_WHERE, signByTiming } from './knock-sign.ts';
import { LayoutError } from './layout-error.ts';
import type { LayoutHint } from './layout-hint.ts';
import type { RawTable, RawTime } from './reshape.ts';

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
	/** The written unit and the one that the values fit, where they contradict each other. */
	contradiction: Contradiction | null;
	/** Readings between which only a person can decide. */
	undecided: Undecided | null;
	/** Unit that the raw values were read in, and what made canonical ones of them. */
	readAs: string;
	conversion: Conversion;
	/** Seconds from the start of the log, ascending, one per value. Channels of one table share the array. */
	timeS: Float64Array;
	values: Float32Array;
	/** Median rate of the channel's own samples; 0 for fewer than two. */
	rateHz: number;
	/** Distinct texts of a text channel. */
	texts: string[];
}

/** What is wrong with the clock of a log. */
export interface TimeFaults {
	/** Where a new recording was joined on, seconds. */
	restartsS: number[];
	/** Samples at the same moment as the one before, and before it. */
	repeated: number;
	backward: number;
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
	timeFaults: TimeFaults;
	/** How the file was read, as far as a reader should know. */
	notes: string[];
}

export interface ReadContext extends RecogniseContext {
	remembered?: ReadonlyMap<string, Assignment>;
	/** What a person said of the file's layout. */
	hint?: LayoutHint | undefined;
	/** Size of the file as sent, where it is known. */
	bytes?: number;
	/** What was said of the customer's other files. */
	layouts?: readonly LayoutHint[];
}

const FACT_SAMPLES = 4000;
const LOOK_BACK = 100;

function factsOf(table: RawTable): (ColumnFacts & Extremes)[] {
	return table.columns.map((c) => {
		return {
			name: c.name,
			unit: c.unit,
			...extremes(c.values),
			median: median(thinned(c.values, FACT_SAMPLES)),
			textShare: table.rows ? c.textCells / table.rows : 0
		};
	});
}

/** Bounds of the columns of logs: samples never change once a log is read, and half of what looks at one wants to know them. */
const known = new WeakMap<Float32Array, Extremes>();

/** Least and greatest value of a channel, NaN where it holds none, and the share of its samples that is missing. */
export function boundsOf(channel: Pick<LogChannel, 'values'>): Extremes {
	let bounds = known.get(channel.values);
	if (!bounds) known.set(channel.values, (bounds = extremes(channel.values)));
	return bounds;
}

/** Bounds of raw values in the unit that they were read in; conversions are straight lines, and values are of single precision. */
function converted({ min, max, missing }: Extremes, { scale, offset }: Conversion): Extremes {
	const ends = [min, max].map((v) => Math.fround(Math.fround(v) * scale + offset));
	return { min: Math.min(...ends), max: Math.max(...ends), missing };
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

/** Seconds per step of the file's clock: by its unit, else by the size of the steps. */
function clockScale(times: readonly RawTime[], notes: string[]): number {
	const written = times[0]?.unit.trim().toLowerCase() ?? '';
	if (/^(ms|msec|milliseconds)$/.test(written)) return 0.001;
	if (/^(us|µs|usec)$/.test(written)) return 1e-6;
	const steps = times.map((t) => medianStep(t.values)).filter((s) => s > 0);
	if (written !== '' || !(Math.min(...steps) >= 5) || steps.length === 0) return 1;
	notes.push('Time has no unit; its steps are milliseconds.');
	return 0.001;
}

/**
 * Seconds from the first sample of the file, ascending. A clock that jumps back is a new recording and goes on after the last sample.
 * @param raw finite clock values
 */
function timeBase(raw: Float64Array, scale: number, originRaw: number, faults: TimeFaults): Float64Array {
	const out = new Float64Array(raw.length);
	const step = medianStep(raw) * scale;
	const usual = step > 0 ? step : 0.05;
	let shift = -originRaw * scale;
	let last = -Infinity;
	for (let i = 0; i < raw.length; i++) {
		let t = raw[i]! * scale + shift;
		if (t <= last) {
			if (last - t > Math.max(1, usual * 5)) {
				faults.restartsS.push(last + usual);
				shift += last + usual - t;
				t = last + usual;
			} else {
				if (t >= last - 1e-9) faults.repeated++;
				else faults.backward++;
				t = last + usual * 1e-3;
			}
		}
		// Whole microseconds: no logger knows its clock better, and they are stored exactly.
		t = Math.round(t * 1e6) / 1e6;
		out[i] = t;
		last = t;
	}
	return out;
}

function tellTimeFaults({ restartsS, repeated, backward }: TimeFaults, notes: string[]): void {
	const n = restartsS.length;
	if (n) notes.push(`Time starts again ${plural(n, 'time')}: the recordings were set one after the other.`);
	if (repeated + backward)
		notes.push(
			`${repeated + backward} samples stand at or before their predecessor in time; they were kept in file order.`
		);
}

/** Every column's reading. Gauge pressures stand on the barometer of the log itself where it has one, else on the vehicle's or the standard one. */
function readingsOf(
	table: RawTable,
	facts: ColumnFacts[],
	context: ReadContext,
	notes: string[]
): (Recognised | null)[] {
	const moments = momentsOf(table, facts);
	let readings = recogniseColumns(facts, context, context.remembered, moments);
	if (!readings.some((r) => r?.unit.gauge && r.conversion.offset !== 0)) return readings;
	const at = readings.findIndex((r) => r?.channel === 'baro');
	const { scale, offset } = readings[at]?.conversion ?? { scale: Number.NaN, offset: 0 };
	const baroKpa = scale * (facts[at]?.median ?? Number.NaN) + offset;
	if (baroKpa > 50 && baroKpa < 110)
		readings = recogniseColumns(facts, { ...context, baroKpa }, context.remembered, moments);
	else
		notes.push(
			`No barometer is logged: gauge pressures stand on ${fixed(context.baroKpa, 1)} kPa (the vehicle's, or standard pressure).`
		);
	return readings;
}

/** Moments spread evenly over the longest clock of a table; another clock's last sample at or before each, for at most two seconds. */
function momentsOf(table: RawTable, facts: readonly ColumnFacts[]): Moments {
	const clock = table.times.reduce<Float64Array>(
		(a, t) => (t.values.length > a.length ? t.values : a),
		new Float64Array(0)
	);
	const step = Math.max(1, Math.floor(clock.length / FACT_SAMPLES));
	const rows = Int32Array.from({ length: Math.floor(clock.length / step) }, (_, k) => k * step);
	const done = new Map<number, Float64Array>();
	return {
		count: rows.length,
		raw(at) {
			let values = done.get(at);
			if (values || !facts[at]) return values ?? new Float64Array(rows.length).fill(Number.NaN);
			const column = table.columns[at]!;
			const own = table.times[column.time]!.values;
			values = new Float64Array(rows.length);
			let k = 0;
			// Cells that are empty between slower samples are looked for a little back.
			for (let r = 0; r < rows.length; r++) {
				const t = clock[rows[r]!]!;
				while (k + 1 < own.length && own[k + 1]! <= t) k++;
				let back = k;
				while (back > 0 && k - back < LOOK_BACK && !(column.values[back] === column.values[back])) back--;
				values[r] = own[k]! <= t ? column.values[back]! : Number.NaN;
			}
			done.set(at, values);
			return values;
		}
	};
}

/** Canonical log of a raw table. Scales the table's columns in place: the table is used up by this. */
export function logFromTable(table: RawTable, context: ReadContext): Log {
	const facts = factsOf(table);
	const notes = [...table.notes];
	const readings = readingsOf(table, facts, context, notes);
	const scale = clockScale(table.times, notes);
	const origin = Math.min(...table.times.map((t) => t.values[0] ?? Infinity));
	// Several axes are of one clock: what happened to it is told once, by the axis with the most samples.
	const faultsOf = table.times.map((): TimeFaults => ({ restartsS: [], repeated: 0, backward: 0 }));
	const axes = table.times.map((t, k) => timeBase(t.values, scale, origin, faultsOf[k]!));
	const widest = axes.reduce((best, a, k) => (a.length > axes[best]!.length ? k : best), 0);
	const timeFaults = faultsOf[widest]!;
	tellTimeFaults(timeFaults, notes);
	const channels: LogChannel[] = [];
	const unmapped: UnmappedColumn[] = [];
	table.columns.forEach((column, i) => {
		const reading = readings[i];
		if (!reading || reading.channel === 'time') {
			// A second clock is no channel and nothing to assign.
			if (!reading)
				unmapped.push({
					raw: column.name,
					rawUnit: column.unit,
					min: facts[i]!.min,
					max: facts[i]!.max,
					private: isPrivate(column.name)
				});
			return;
		}
		const timeS = axes[column.time]!;
		const values = column.values instanceof Float32Array ? column.values : Float32Array.from(column.values);
		const { scale: by, offset } = reading.conversion;
		if (by !== 1 || offset !== 0)
			for (let k = 0; k < values.length; k++) values[k] = values[k]! * by + offset;
		known.set(values, converted(facts[i]!, reading.conversion));
		const channel: LogChannel = {
			id: reading.channel,
			raw: column.name,
			rawUnit: column.unit,
			unit: CANONICAL_UNIT[channelKind(reading.channel).quantity],
			note: reading.note,
			source: reading.source,
			contradiction: reading.contradiction,
			undecided: reading.source === 'assigned' ? null : reading.undecided,
			readAs: reading.unit.id,
			conversion: reading.conversion,
			timeS,
			values,
			rateHz: rateOf(timeS, values),
			texts: column.texts
		};
		channels.push(channel);
	});
	orientKnock(channels);
	if (channels.length === 0 && table.seen && !table.byHand)
		throw new LayoutError('none of the columns is recognised', table.seen);
	const durationS = Math.max(0, ...axes.map((a) => a[a.length - 1] ?? 0));
	return { channels, unmapped, rows: table.rows, durationS, notes, timeFaults };
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

/** The sign that a person gave a knock channel, +1 or −1 of what the file writes; 0 where nobody was asked. */
function answeredSign(channel: LogChannel): 1 | -1 | 0 {
	if (channel.readAs === PULLED_WHERE.negative) return -1;
	return channel.readAs === PULLED_WHERE.positive ? 1 : 0;
}

/**
 * Turns the knock channels so that positive is pulled. All of one logger count the same way: the total says it for the cylinders, and so does an
 * answer that was given for one of them. Where nothing says it and all that moved is negative, the question stands at the first of them.
 */
function orientKnock(channels: LogChannel[]): void {
	const byId = (id: string) => channels.find((c) => c.id === id);
	const [base, final] = [byId('sparkBase'), byId('spark')];
	const knock = channels.filter((c) => c.id.startsWith('knockRetard'));
	const whole = byId('knockRetard');
	// Timing that was logged is never wrong about it; an answer counts where there is none.
	const byTiming = whole ? signByTiming(whole.values, whole.timeS, base, final) : 0;
	const answered = knock.map(answeredSign).find((sign) => sign !== 0) ?? 0;
	let asked = false;
	for (const channel of knock) {
		// What a person answered has turned its own channel already, as a unit does.
		const turned = answeredSign(channel);
		const likeWhole = (turned || 1) * ((whole && answeredSign(whole)) || 1);
		const own = byTiming * likeWhole || signByTiming(channel.values, channel.timeS, base, final);
		const sign = (own || (turned ? 1 : answered)) as 1 | -1 | 0;
		const { retard, advance, note } = oriented(
			channel.values,
			sign,
			boundsOf(channel),
			own === 0 && sign !== 0
		);
		if (retard === channel.values) continue;
		if (sign === 0 && !advance && !asked) {
			channel.undecided = bothSigns(channel);
			asked = true;
		}
		known.delete(channel.values);
		channel.values = retard;
		if (note) channel.note = [channel.note, note].filter(Boolean).join('; ');
		if (advance && channel === whole && !byId('knockAdvance'))
			channels.push({
				...channel,
				id: 'knockAdvance',
				values: advance,
				undecided: null,
				note: `timing added, out of ${channel.raw}`
			});
	}
}

/** A channel that is never above zero, read as timing that was pulled (taken until somebody says), and as timing that was added. */
function bothSigns(channel: LogChannel): Undecided {
	const { min, max } = boundsOf(channel);
	const middle = median(thinned(channel.values, FACT_SAMPLES));
	return {
		readings: [
			{ unit: PULLED_WHERE.negative, low: 0 - max, median: 0 - middle, high: -min },
			{ unit: PULLED_WHERE.positive, low: min, median: middle, high: max }
		]
	};
}
