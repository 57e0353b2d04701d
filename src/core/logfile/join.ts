/**
 * A second recorder joins a log: an instrument with a file and a clock of its own. The two are aligned by a channel that both have, engine speed
 * before road speed: by its changes, for another drive of the same plan has like values and other changes. The clock's offset and its rate are
 * estimated together; what doesn't lie on one line is another drive, and is refused.
 */
import { mean } from 'd3-array';
import { fixed } from '../format.ts';
import { InputError } from '../input-error.ts';
import { median, theilSen } from '../stats/stats.ts';
import type { Log, LogChannel } from './log.ts';

export interface Joined {
	/** Moment of the log at which the other clock shows zero, seconds, and its standard error. */
	offsetS: number;
	offsetSe: number;
	/** Seconds of the other clock per second of the log's, and its standard error. */
	rate: number;
	rateSe: number;
	/** Of the changes over half a second, once aligned. */
	correlation: number;
	overlapS: number;
	/** By what the two were aligned. */
	shared: 'rpm' | 'speed';
	/** Ids of the channels that came in. */
	channels: string[];
	log: Log;
}

/** Signals are compared on a grid of this step. */
const STEP_S = 0.05;
/** Windows in which the place of the other recorder is looked for: length, how many, and every how many steps at first. */
const WINDOW_S = 30;
const WINDOWS = 24;
const COARSE = 4;
const CHANGE_S = 0.5;
const LEAST_CORRELATION = 0.9;
const LEAST_OVERLAP_S = 60;
const MOST_RATE_OFF = 0.01;
/** The three thirds lie on one line within this. */
const ON_LINE_S = 0.05;
/** Latency of a speed by satellite varies by this, s: added to what the offset is known to. Common practice: 0.2 to 0.5 s. */
const SATELLITE_SE_S = 0.15;

/** A channel on an even grid from its first sample on; held over gaps by a straight line. */
function evenly({ timeS, values }: LogChannel): { from: number; v: Float64Array } {
	const t: number[] = [];
	const y: number[] = [];
	for (let i = 0; i < timeS.length; i++)
		if (values[i] === values[i]) {
			t.push(timeS[i]!);
			y.push(values[i]!);
		}
	if (t.length < 2) return { from: 0, v: new Float64Array(0) };
	const count = Math.floor((t.at(-1)! - t[0]!) / STEP_S) + 1;
	const v = new Float64Array(count);
	let at = 0;
	for (let i = 0; i < count; i++) {
		const when = t[0]! + i * STEP_S;
		while (at + 2 < t.length && t[at + 1]! <= when) at++;
		const span = t[at + 1]! - t[at]!;
		const share = span > 0 ? Math.min(1, (when - t[at]!) / span) : 0;
		v[i] = y[at]! + share * (y[at + 1]! - y[at]!);
	}
	return { from: t[0]!, v };
}

/** Changes over half a second. */
function changes(v: Float64Array): Float64Array {
	const half = Math.round(CHANGE_S / STEP_S / 2);
	return v.map((_, i) => v[Math.min(v.length - 1, i + half)]! - v[Math.max(0, i - half)]!);
}

/** Correlation of `b` with `a` from `at` on; 0 where one of them stands still. */
function correlationAt(a: Float64Array, at: number, b: Float64Array, step: number): number {
	let [n, sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0, 0];
	for (let i = 0; i < b.length; i += step) {
		const x = a[at + i]!;
		const y = b[i]!;
		n++;
		sa += x;
		sb += y;
		saa += x * x;
		sbb += y * y;
		sab += x * y;
	}
	const va = saa - (sa * sa) / n;
	const vb = sbb - (sb * sb) / n;
	return va > 1e-9 && vb > 1e-9 ? (sab - (sa * sb) / n) / Math.sqrt(va * vb) : 0;
}

/** Where a window lies best in `a`, in steps and parts of one, and how well. */
function placeIn(a: Float64Array, window: Float64Array): { at: number; correlation: number } {
	const last = a.length - window.length;
	let best = { at: 0, correlation: -1 };
	const look = (from: number, to: number, stride: number, step: number) => {
		for (let at = Math.max(0, from); at <= Math.min(last, to); at += stride) {
			const correlation = correlationAt(a, at, window, step);
			if (correlation > best.correlation) best = { at, correlation };
		}
	};
	look(0, last, COARSE, COARSE);
	const coarse = best.at;
	best = { at: coarse, correlation: -1 };
	look(coarse - 2 * COARSE, coarse + 2 * COARSE, 1, 1);
	// The top of a parabola through the best and its neighbours: a part of a step.
	if (best.at > 0 && best.at < last) {
		const [before, after] = [-1, 1].map((d) => correlationAt(a, best.at + d, window, 1)) as [number, number];
		const bend = before - 2 * best.correlation + after;
		if (bend < 0) best = { at: best.at + (0.5 * (before - after)) / bend, correlation: best.correlation };
	}
	return best;
}

interface Line {
	/** Moment of the log at the middle of the windows, and seconds of the log per second of the other clock. */
	offset: number;
	slope: number;
	offsetSe: number;
	slopeSe: number;
	/** Largest distance of a third of the windows from the line, s. */
	offLine: number;
}

/** The line that the places of the windows lie on, by least squares over those that lie near the robust one. */
function lineThrough(other: readonly number[], log: readonly number[]): Line {
	const slope = theilSen(other, log);
	const middle = median(log.map((y, i) => y - slope * other[i]!));
	const residual = log.map((y, i) => y - middle - slope * other[i]!);
	const near = other.map((_, i) => i).filter((i) => Math.abs(residual[i]!) < 0.5);
	const [x, y] = [near.map((i) => other[i]!), near.map((i) => log[i]!)];
	const [mx, my] = [mean(x) ?? 0, mean(y) ?? 0];
	const sxx = x.reduce((s, v) => s + (v - mx) ** 2, 0);
	const b = sxx > 0 ? x.reduce((s, v, i) => s + (v - mx) * (y[i]! - my), 0) / sxx : 1;
	const a = my - b * mx;
	const left = x.map((v, i) => y[i]! - a - b * v);
	const sigma = Math.sqrt(left.reduce((s, r) => s + r * r, 0) / Math.max(1, x.length - 2));
	const third = Math.ceil(x.length / 3);
	const thirds = [0, 1, 2].map((k) => left.slice(k * third, (k + 1) * third)).filter((t) => t.length > 0);
	return {
		offset: a,
		slope: b,
		offsetSe: sigma * Math.sqrt(1 / x.length + mx ** 2 / Math.max(1e-9, sxx)),
		slopeSe: sigma / Math.sqrt(Math.max(1e-9, sxx)),
		offLine: Math.max(...thirds.map((t) => Math.abs(median(t))))
	};
}

/** How well the two go together once aligned, and for how long. */
function together(a: ReturnType<typeof evenly>, b: ReturnType<typeof evenly>, line: Line) {
	const [da, db] = [changes(a.v), changes(b.v)];
	const [x, y]: [number[], number[]] = [[], []];
	for (let i = 0; i < db.length; i++) {
		const when = (line.offset + line.slope * (b.from + i * STEP_S) - a.from) / STEP_S;
		const at = Math.floor(when);
		if (at < 0 || at + 1 >= da.length) continue;
		x.push(da[at]! + (when - at) * (da[at + 1]! - da[at]!));
		y.push(db[i]!);
	}
	return {
		correlation: x.length > 1 ? correlationAt(Float64Array.from(x), 0, Float64Array.from(y), 1) : 0,
		overlapS: x.length * STEP_S * line.slope
	};
}

function sharedChannel(a: Log, b: Log, wanted: 'rpm' | 'speed' | undefined) {
	for (const id of wanted ? [wanted] : (['rpm', 'speed'] as const)) {
		const [one, other] = [a, b].map((l) => l.channels.find((c) => c.id === id));
		if (one && other) return { id, one, other };
	}
	throw new InputError(
		wanted
			? `the two have no ${wanted === 'rpm' ? 'engine speed' : 'road speed'} in common`
			: 'the two have neither engine speed nor road speed in common: there is nothing to align them by'
	);
}

/** How the clocks of two recorders go together, and the shared channel of both over the log's clock: what a person looks at. */
export interface Alignment extends Omit<Joined, 'log'> {
	picture: { timeS: number[]; log: (number | null)[]; other: (number | null)[] };
}

/** Points of the picture. */
const PICTURE = 240;

/** The same without the log, for a page. */
export function alignmentOf({ log, ...answer }: Joined, other: Log): Alignment {
	const one = log.channels.find((c) => c.id === answer.shared)!;
	const second = other.channels.find((c) => c.id === answer.shared)!;
	const [a, b] = [evenly(one), evenly(second)];
	const read = ({ from, v }: typeof a, t: number) => {
		const at = Math.round((t - from) / STEP_S);
		return at >= 0 && at < v.length ? Math.round(v[at]! * 10) / 10 : null;
	};
	// A minute in the middle of what both have: there the eye sees tenths of a second.
	const [from, to] = [
		Math.max(a.from, answer.offsetS + b.from / answer.rate),
		Math.min(a.from + a.v.length * STEP_S, answer.offsetS + (b.from + b.v.length * STEP_S) / answer.rate)
	];
	const middle = (from + to) / 2;
	const timeS = Array.from({ length: PICTURE }, (_, i) => middle - 30 + (60 * i) / (PICTURE - 1));
	return {
		...answer,
		picture: {
			timeS,
			log: timeS.map((t) => read(a, t)),
			other: timeS.map((t) => read(b, (t - answer.offsetS) * answer.rate))
		}
	};
}

/** What the instrument's channels are called in the log: its mixture is a reference beside the controller's own. */
function named(log: Log, other: Log, shared: 'rpm' | 'speed'): [LogChannel, string][] {
	const taken = new Set(log.channels.map((c) => c.id));
	const references = ['lambda.ref', 'lambda.ref2'].filter((id) => !taken.has(id));
	return other.channels.flatMap((c): [LogChannel, string][] => {
		if (/^lambda\.(b1|b2|ref|ref2|dyno)$/.test(c.id)) {
			// By satellite speed the two are known to a few tenths: too coarse to pair a mixture.
			const id = shared === 'speed' ? undefined : references.shift();
			return id ? [[c, id]] : [];
		}
		return taken.has(c.id) ? [] : [[c, c.id]];
	});
}

/**
 * @param shared by which channel; engine speed, else road speed, when missing
 * @throws InputError where the two are not of one drive, saying by how much
 */
export function joinLogs(log: Log, other: Log, shared?: 'rpm' | 'speed'): Joined {
	const { id, one, other: second } = sharedChannel(log, other, shared);
	const [a, b] = [evenly(one), evenly(second)];
	const [da, db] = [changes(a.v), changes(b.v)];
	const length = Math.min(Math.round(WINDOW_S / STEP_S), db.length, da.length);
	if (db.length * STEP_S < LEAST_OVERLAP_S || da.length * STEP_S < LEAST_OVERLAP_S)
		throw new InputError(`the shorter of the two has less than ${LEAST_OVERLAP_S} s to be aligned by`);
	const [x, y]: [number[], number[]] = [[], []];
	for (let w = 0; w < WINDOWS; w++) {
		const start = Math.round((w * (db.length - length)) / (WINDOWS - 1));
		const window = db.subarray(start, start + length);
		const place = placeIn(da, window);
		if (place.correlation < LEAST_CORRELATION) continue;
		const middle = (length / 2) * STEP_S;
		x.push(b.from + start * STEP_S + middle);
		y.push(a.from + place.at * STEP_S + middle);
	}
	const refuse = (why: string): never => {
		throw new InputError(`the two are not of one drive: ${why}`);
	};
	if (x.length < 3) refuse('their changes go together nowhere, whatever their values do');
	const line = lineThrough(x, y);
	const { correlation, overlapS } = together(a, b, line);
	if (Math.abs(line.slope - 1) > MOST_RATE_OFF)
		refuse(`one clock would run ${fixed(100 * Math.abs(1 / line.slope - 1), 1)} % off the other`);
	if (overlapS < LEAST_OVERLAP_S)
		refuse(`they overlap for ${fixed(overlapS, 0)} s, ${LEAST_OVERLAP_S} are needed`);
	if (correlation < LEAST_CORRELATION)
		refuse(`their changes correlate by ${fixed(correlation, 2)}, ${LEAST_CORRELATION} are needed`);
	if (line.offLine > ON_LINE_S)
		refuse(`their clocks are not on one line: a third of it is ${fixed(1000 * line.offLine, 0)} ms off`);
	const incoming = named(log, other, id);
	const rate = 1 / line.slope;
	return {
		offsetS: line.offset,
		offsetSe: Math.hypot(line.offsetSe, id === 'speed' ? SATELLITE_SE_S : 0),
		rate,
		rateSe: line.slopeSe * rate * rate,
		correlation,
		overlapS,
		shared: id,
		channels: incoming.map(([, name]) => name),
		log: {
			...log,
			channels: [
				...log.channels,
				...incoming.map(([c, name]): LogChannel => ({
					...c,
					id: name,
					note: [c.note, 'of a second recorder'].filter(Boolean).join('; '),
					timeS: c.timeS.map((t) => line.offset + line.slope * t)
				}))
			]
		}
	};
}
