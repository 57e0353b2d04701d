/**
 * A cylinder that doesn't burn, told without a counter. It sends its air past the sensor of its bank, so that the mixture steps up by as much
 * as one over the other cylinders of the bank, and it takes its share of the pull along. Only both together tell: a real lean mixture costs
 * little torque, and a weak pull alone may be wind or a hill.
 */
import { FLAG, NO_MIXTURE } from '../segments/kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Segments } from '../segments/segments.ts';
import { slope, type Run } from '../../stats/runs.ts';

export interface DeadStretch extends Run {
	/** Bank whose sensor saw it, from 1. */
	bank: number;
	/** Step of the mixture, and of the pull that was lost, shares. */
	leanShare: number;
	lostShare: number;
}

/** Part of the whole step from which one is looked at, and least of it in any case. */
const STEP_PART = 0.25;
const LEAST_STEP = 0.03;
/** Levels before and after a step are means over this long, this far from it. */
const LEVEL_S = 0.35;
const APART_S = 0.1;
/** A stretch ends where less than half of its step is left. */
const LEFT = 0.5;
const SHORTEST_S = 0.25;
/** Lost pull, in shares of one cylinder: its estimate, and what is certain of it. */
const LOST_LEAST = 0.6;
const LOST_CERTAIN = 0.3;
const CERTAIN_SE = 1.96;
/** Moments of acceleration this far apart are independent. */
const INDEPENDENT_S = 0.4;
const NEAR_RPM = 500;
const FEWEST = 8;

/** @param off ln(lambda / target) of a bank per sample, NaN where there is no mixture @param cylinders of the engine, and of this bank */
export function deadStretches(
	frame: Frame,
	segments: Segments,
	off: Float32Array,
	cylinders: { all: number; bank: number }
): Omit<DeadStretch, 'bank'>[] {
	const rpm = frame.get('rpm');
	if (!rpm || cylinders.bank < 2 || segments.pulls.length === 0) return [];
	const step = Math.max(LEAST_STEP, STEP_PART * Math.log(1 + 1 / (cylinders.bank - 1)));
	const candidates = segments.pulls.flatMap((p) => stepsUp(off, frame.timeS, p, step));
	if (candidates.length === 0) return [];
	const drive = driveOf(frame, segments, rpm);
	const inside = new Uint8Array(frame.length);
	for (const c of candidates) for (let i = c.from; i <= c.to; i++) inside[i] = 1;
	return candidates.flatMap((c): Omit<DeadStretch, 'bank'>[] => {
		const pull = segments.pulls.find((p) => p.from <= c.from && c.to <= p.to)!;
		const lost = lostIn(c, pull.gear, { frame, segments, rpm, drive, inside });
		if (!lost) return [];
		const one = 1 / cylinders.all;
		const dead = lost.share >= LOST_LEAST * one && lost.share - CERTAIN_SE * lost.se > LOST_CERTAIN * one;
		return dead ? [{ from: c.from, to: c.to, leanShare: Math.expm1(c.step), lostShare: lost.share }] : [];
	});
}

/** Stretches of a pull that begin with a step up of the mixture and end where it comes back, or with the pull. */
function stepsUp(off: Float32Array, t: Float64Array, pull: Run, least: number): (Run & { step: number })[] {
	const mean = (from: number, to: number): number => {
		let [sum, n] = [0, 0];
		for (let i = Math.max(pull.from, from); i <= pull.to && i <= to; i++)
			if (off[i] === off[i]) {
				sum += off[i]!;
				n++;
			}
		return n >= 2 ? sum / n : Number.NaN;
	};
	const at = (from: number, s: number): number => {
		let i = from;
		while (i < pull.to && t[i]! - t[from]! < s) i++;
		while (s < 0 && i > pull.from && t[i]! - t[from]! > s) i--;
		return i;
	};
	const out: (Run & { step: number })[] = [];
	for (let i = pull.from; i <= pull.to; i++) {
		const before = mean(at(i, -LEVEL_S - APART_S), at(i, -APART_S));
		const after = mean(at(i, APART_S), at(i, APART_S + LEVEL_S));
		if (!(after - before >= least)) continue;
		// From where half of it is reached to where half of it is left.
		const half = before + LEFT * (after - before);
		let from = i;
		while (from < pull.to && !(off[from]! > half)) from++;
		let to = from;
		let level = after;
		for (let k = from; k <= pull.to; k++) {
			const now = mean(k, at(k, APART_S));
			if (now === now && now < half) break;
			if (now > level) level = now;
			to = k;
		}
		if (t[to]! - t[from]! >= SHORTEST_S) out.push({ from, to, step: level - before });
		i = Math.max(i, to);
	}
	return out;
}

/** Acceleration of the engine over its air: what a pull makes of the mixture that it gets. */
function driveOf(frame: Frame, segments: Segments, rpm: Float32Array): Float32Array {
	const accel = slope(rpm, frame.timeS, 0.15);
	const air = frame.get('airmass') ?? frame.get('map');
	const out = new Float32Array(frame.length).fill(Number.NaN);
	for (const p of segments.pulls)
		for (let i = p.from; i <= p.to; i++)
			if (!(segments.flags[i]! & (NO_MIXTURE | FLAG.spin | FLAG.limited)))
				out[i] = accel[i]! / (air ? air[i]! : 1);
	return out;
}

interface Around {
	frame: Frame;
	segments: Segments;
	rpm: Float32Array;
	drive: Float32Array;
	/** 1 in any candidate. */
	inside: Uint8Array;
}

/** Share of the pull that is missing in a stretch against the same speeds of other pulls and of the same one, in its gear. */
function lostIn(run: Run, gear: number | undefined, a: Around): { share: number; se: number } | null {
	const { frame, segments, rpm, drive, inside } = a;
	const known: { rpm: number; drive: number }[] = [];
	for (const p of segments.pulls)
		if (p.gear === gear)
			for (let i = p.from; i <= p.to; i++)
				if (!inside[i] && drive[i] === drive[i]) known.push({ rpm: rpm[i]!, drive: drive[i]! });
	let [sum, n, seconds] = [0, 0, 0];
	const scatter: number[] = [];
	for (let i = run.from; i <= run.to; i++) {
		if (drive[i] !== drive[i]) continue;
		const usual = localLine(known, rpm[i]!);
		if (!usual || !(usual.at > 0)) continue;
		sum += drive[i]! / usual.at;
		scatter.push(usual.scatter / usual.at);
		n++;
		seconds += frame.dtS[i]!;
	}
	if (n < 3) return null;
	const sigma = scatter.reduce((s, v) => s + v, 0) / n;
	return { share: 1 - sum / n, se: sigma * Math.sqrt(Math.max(1, (2 * INDEPENDENT_S) / seconds)) };
}

/** Straight line through what is known within 500 rpm, its value at a speed and the scatter about it. */
function localLine(
	known: readonly { rpm: number; drive: number }[],
	at: number
): { at: number; scatter: number } | null {
	let [n, sx, sy, sxx, sxy, syy] = [0, 0, 0, 0, 0, 0];
	for (const k of known) {
		const x = k.rpm - at;
		if (Math.abs(x) > NEAR_RPM) continue;
		n++;
		sx += x;
		sy += k.drive;
		sxx += x * x;
		sxy += x * k.drive;
		syy += k.drive * k.drive;
	}
	if (n < FEWEST) return null;
	const spread = n * sxx - sx * sx;
	const rise = spread > 0 ? (n * sxy - sx * sy) / spread : 0;
	const mean = (sy - rise * sx) / n;
	const squares = Math.max(0, syy - (sy * sy) / n - rise * (sxy - (sx * sy) / n));
	return { at: mean, scatter: Math.sqrt(squares / Math.max(1, n - 2)) };
}
