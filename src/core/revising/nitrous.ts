/**
 * Proposal for the fuel that goes with dry nitrous: where the mixture met its target, base fuel + adder must equal what flowed; the
 * difference goes to the adder, at each solenoid duty (common practice: 215 + 70 against 302 lb/h makes the adder 87).
 */
import type { Prepared } from '../evidence/prepared.ts';
import type { Calibration, CurveItem } from '../calibration/document.ts';
import { decimalsOf, findCurve, findItem, roundTo } from '../calibration/lookup.ts';
import { AxisFinder, interpolateCurve } from '../calibration/grid.ts';
import { axisChannel } from '../calibration/axes.ts';
import { usable } from '../evidence/lambda/required.ts';
import {
	LEAST_NITROUS_S,
	leanestOf,
	nitrousBins,
	nitrousOn,
	type NitrousBin
} from '../screening/checks/nitrous.ts';
import { median } from '../stats/stats.ts';
import { signed } from '../format.ts';
import type { Evidence } from '../correction/evidence.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';

const ITEM = 'fuel.nitrous';
/** Below this share of the adder a difference is scatter, percent. */
const QUIET_PCT = 1;

/** New adder: what flowed less what the engine would have had without nitrous. Any unit of mass flow. */
export function nitrousAdder(adder: number, base: number, flowed: number): number {
	return adder + (flowed - (base + adder));
}

/** Base fuel is proven where the correction without nitrous is this small, from this many samples of a cell. */
const PROVEN_PCT = 2;
const PROVEN_SAMPLES = 10;
/** Most of the adder that one revision takes out, percent. */
const MOST_OUT_PCT = 5;

/** Adding goes all the way; taking out stays on the safe side of its own scatter, and small. */
function allowed(off: number, list: readonly number[], from: number): number {
	if (off >= 0) return off;
	const mean = list.reduce((s, v) => s + v, 0) / list.length;
	const se = Math.sqrt(
		list.reduce((s, v) => s + (v - mean) ** 2, 0) / list.length / Math.max(1, list.length - 1)
	);
	return Math.max(Math.min(0, off + se), (-MOST_OUT_PCT / 100) * from);
}

/** Whether the fuel of a sample's cell is right without nitrous. */
function provenBase(
	{ frame, required, axes, segments, profile }: Prepared,
	duty: Float32Array
): (i: number) => boolean {
	const x = axisChannel(frame, { channel: axes.xChannel, unit: axes.xUnit }, segments.baroKpa);
	const y = axisChannel(frame, { channel: axes.yChannel, unit: axes.yUnit }, segments.baroKpa);
	const k = leanestOf(required.banks);
	if (!x || !y || !k) return () => false;
	const [fx, fy] = [new AxisFinder(axes.x), new AxisFinder(axes.y)];
	const cellOf = (i: number) => fy.nearest(y[i]!) * axes.x.length + fx.nearest(x[i]!);
	const sum = new Float64Array(axes.x.length * axes.y.length);
	const count = new Float64Array(sum.length);
	for (let i = 0; i < frame.length; i++) {
		if (
			duty[i]! > profile.nitrousOnPct ||
			!usable(segments, i) ||
			k[i] !== k[i] ||
			x[i] !== x[i] ||
			y[i] !== y[i]
		)
			continue;
		const c = cellOf(i);
		sum[c]! += k[i]! - 1;
		count[c]!++;
	}
	return (i) => {
		const c = cellOf(i);
		return count[c]! >= PROVEN_SAMPLES && Math.abs((100 * sum[c]!) / count[c]!) <= PROVEN_PCT;
	};
}

/** What was seen at each point of the adder's curve with nitrous on. */
interface AtDuty {
	/** Samples with nitrous on; with the mixture on target; and with the base proven as well. */
	on: number;
	met: number;
	proven: number;
	/** What the adder should have been less what it was, g/s; base fuel, adder and flow, g/s; timing that came out, degrees. */
	off: number[];
	base: number[];
	adder: number[];
	flow: number[];
	outDeg: number[];
}
interface Seen {
	points: AtDuty[];
	stepS: number;
}

/** Goes through the logs that know fuel with and without nitrous. Every list is of the samples on target with the base proven, where there are such; timing of all with nitrous on. */
function seenWith(evidence: readonly Evidence[], dutyPct: readonly number[]): Seen {
	const finder = new AxisFinder(dutyPct);
	const points = dutyPct.map((): AtDuty => ({
		on: 0,
		met: 0,
		proven: 0,
		off: [],
		base: [],
		adder: [],
		flow: [],
		outDeg: []
	}));
	let stepS = 0.05;
	for (const { input } of evidence) {
		const { frame, believed, target, profile } = input;
		const duty = frame.get('nitrousDuty');
		const [flow, base, adder] = [frame.get('fuelFlow'), frame.get('fuelFlowBase'), frame.get('nitrousFuel')];
		const lambda = leanestOf(believed.banks);
		if (!duty || !flow || !base || !adder || !lambda || !target.values) continue;
		const [final, table] = [frame.get('spark'), frame.get('sparkBase')];
		stepS = frame.stepS;
		const on = nitrousOn(input, duty);
		const proven = provenBase(input, duty);
		for (let i = 0; i < frame.length; i++) {
			if (!on(i)) continue;
			const at = points[finder.nearest(duty[i]!)]!;
			at.on++;
			const out = final && table ? table[i]! - final[i]! : Number.NaN;
			if (out === out) at.outDeg.push(out);
			if (!(Math.abs(100 * (lambda[i]! / target.values[i]! - 1)) <= profile.nitrousOnTargetPct)) continue;
			at.met++;
			if (!proven(i)) continue;
			at.proven++;
			at.off.push(nitrousAdder(adder[i]!, base[i]!, flow[i]!) - adder[i]!);
			at.base.push(base[i]!);
			at.adder.push(adder[i]!);
			at.flow.push(flow[i]!);
		}
	}
	return { points, stepS };
}

const leastSamples = (stepS: number) => Math.max(3, Math.ceil(LEAST_NITROUS_S / stepS));

/** The adder at a point after what was seen there; as it was where too little was, or the difference is scatter. */
function adderAfter(curve: CurveItem, i: number, { off }: AtDuty, stepS: number, driven = curve): number {
	const from = curve.values[i]!;
	if (off.length < leastSamples(stepS)) return from;
	// What was missing, was missing from the adder that the log was made with.
	const then = driven === curve ? from : interpolateCurve(driven.x.points, driven.values, curve.x.points[i]!);
	const more = then + allowed(median(off), off, then) - from;
	if (Math.abs(more) < (QUIET_PCT / 100) * Math.max(from, 1e-9)) return from;
	return roundTo(Math.max(0, from + more), decimalsOf(curve));
}

export interface NitrousRow {
	/** A point of the adder's curve, percent of solenoid duty. */
	dutyPct: number;
	/** Time with nitrous on near it, and of that on target with the base proven, s. */
	onS: number;
	judgedS: number;
	/** Medians of what is judged, g/s; `null` where nothing is. */
	baseGs: number | null;
	flowGs: number | null;
	/** The adder of the curve, and after it. */
	beforeGs: number;
	afterGs: number;
	/** Why it stays; empty where it doesn't. */
	why: string;
	/** Timing that came out, degrees: of the log, else of the calibration; `null` where neither says. */
	outDeg: number | null;
}

export interface NitrousView {
	rows: NitrousRow[];
	/** Timing that has to come out for the shot; `null` where its size isn't stated. */
	neededDeg: number | null;
	shotHp: number | null;
}

/** Every solenoid duty of the curve with the adder before and after; `null` where the log has no nitrous, or the calibration no curve for it. */
export function nitrousView(input: Prepared): NitrousView | null {
	const curve = input.calibration ? findCurve(input.calibration, ITEM) : null;
	if (!curve || !input.frame.has('nitrousDuty')) return null;
	const { points, stepS } = seenWith([{ input, findings: [] }], curve.x.points);
	const shotHp = input.vehicle.nitrous?.shotHp ?? null;
	return {
		rows: curve.x.points.map((dutyPct, i): NitrousRow => {
			const at = points[i]!;
			const afterGs = adderAfter(curve, i, at, stepS);
			const middle = (v: number[]) => (v.length ? median(v) : null);
			return {
				dutyPct,
				onS: at.on * stepS,
				judgedS: at.proven * stepS,
				baseGs: middle(at.base),
				flowGs: middle(at.flow),
				beforeGs: curve.values[i]!,
				afterGs,
				why: afterGs === curve.values[i]! ? whyItStays(at, stepS) : '',
				outDeg: middle(at.outDeg) ?? timingOfCurve(input, dutyPct)
			};
		}),
		neededDeg: shotHp === null ? null : (input.profile.nitrousDegPer50Hp * shotHp) / 50,
		shotHp
	};
}

/** The curve of the adder where the calibration has one; and what the log says of the fuel, by ten percent of duty. */
export interface NitrousTables {
	curve: NitrousView | null;
	bins: NitrousBin[] | null;
}

export const nitrousTables = (input: Prepared): NitrousTables => ({
	curve: nitrousView(input),
	bins: nitrousBins(input)
});

function whyItStays({ on, met, proven }: AtDuty, stepS: number): string {
	if (on === 0) return 'nitrous was never on here';
	if (met === 0) return 'the mixture never met its target within 2 %';
	if (proven === 0) return 'the fuel without nitrous is not proven here';
	return proven < leastSamples(stepS) ? 'too short to judge' : 'right within its scatter';
}

/** Timing that the calibration takes out at a solenoid duty. */
function timingOfCurve({ calibration }: Prepared, dutyPct: number): number | null {
	const item = calibration ? findItem(calibration, 'spark.nitrous') : undefined;
	if (item?.kind === 'scalar') return Math.abs(item.value);
	return item?.kind === 'curve' ? Math.abs(interpolateCurve(item.x.points, item.values, dutyPct)) : null;
}

/**
 * The curve stays a curve: a point between two that are raised is raised at least by what lies between them, and a flat end goes with its
 * neighbour. Nothing is taken out of a point on the word of others.
 * @param seen whether a point was measured
 */
export function withoutDips(curve: CurveItem, after: readonly number[], seen: readonly boolean[]): number[] {
	const { points } = curve.x;
	const raised = after.map((v, i) => v - curve.values[i]!);
	const out = [...after];
	const up = raised.flatMap((d, i) => (seen[i] && d > 0 ? [i] : []));
	for (let i = 0; i < points.length; i++) {
		const below = up.findLast((k) => k < i);
		const above = up.find((k) => k > i);
		let least = 0;
		if (below !== undefined && above !== undefined) {
			const share = (points[i]! - points[below]!) / (points[above]! - points[below]!);
			least = raised[below]! + share * (raised[above]! - raised[below]!);
		} else {
			const end = below ?? above;
			const flat = end !== undefined && curve.values[end] === curve.values[i] && curve.values[i]! > 0;
			if (end !== undefined && flat && !seen[i]) least = raised[end]!;
		}
		if (least > 0 && least > raised[i]!) out[i] = roundTo(curve.values[i]! + least, decimalsOf(curve));
	}
	return out;
}

/** @param base the revision that is to be changed */
export function proposeNitrous(
	evidence: readonly Evidence[],
	base: Calibration | null
): { change: ItemProposal | null; held: Held[] } {
	const none = { change: null, held: [] };
	const curve = base ? findCurve(base, ITEM) : null;
	if (!curve) return none;
	const made = evidence[0]?.input.calibration;
	const driven = (made && findCurve(made, ITEM)) ?? curve;
	const { points, stepS } = seenWith(evidence, curve.x.points);
	if (points.every((at) => at.on === 0)) return none;
	const after = curve.x.points.map((_, i) => adderAfter(curve, i, points[i]!, stepS, driven));
	const seen = points.map((at) => at.off.length >= leastSamples(stepS));
	const whole = withoutDips(curve, after, seen);
	const cells = curve.x.points.flatMap((x, i): CellChange[] => {
		const from = curve.values[i]!;
		const to = whole[i]!;
		return to === from
			? []
			: [
					{
						x,
						y: 0,
						from,
						to,
						basis: to === after[i] ? 'measured' : 'carried',
						samples: points[i]!.off.length,
						se: null
					}
				];
	});
	if (cells.length === 0)
		return points.every((at) => at.off.length < leastSamples(stepS))
			? {
					change: null,
					held: [
						{
							item: ITEM,
							code: 'nitrous.fuel',
							reason: points.some((at) => at.met)
								? 'the fuel without nitrous is not proven where nitrous was on (a correction within 2 % there, from driving without it): an error of the base would go into the adder'
								: 'the mixture never met its target within 2 % while nitrous was on: the adder can only be judged then'
						}
					]
				}
			: none;
	return {
		change: {
			item: ITEM,
			cells,
			reason: `What flowed less base fuel, with the mixture on target: ${cells.map((c) => `${signed(c.to - c.from)} g/s at ${c.x} % duty`).join(', ')}`,
			findings: ['nitrous.fuel']
		},
		held: []
	};
}
