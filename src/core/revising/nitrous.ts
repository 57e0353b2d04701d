/**
 * Proposal for the fuel that goes with dry nitrous: where the mixture met its target, base fuel + adder must equal what flowed; the
 * difference goes to the adder, at each solenoid duty (common practice: 215 + 70 against 302 lb/h makes the adder 87).
 */
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { decimalsOf, findCurve, roundTo } from '../calibration/document.ts';
import { AxisFinder } from '../calibration/grid.ts';
import { axisChannel } from '../calibration/axes.ts';
import { usable } from '../evidence/lambda/required.ts';
import { leanestOf } from '../screening/checks/nitrous.ts';
import { median } from '../stats/stats.ts';
import { signed } from '../format.ts';
import type { Evidence } from '../correction/evidence.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';

const ITEM = 'fuel.nitrous';
const ON_PCT = 1;
const ON_TARGET_PCT = 2;
const LEAST_S = 0.3;
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
	{ frame, required, axes, segments }: Prepared,
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
		if (duty[i]! > ON_PCT || !usable(segments, i) || k[i] !== k[i] || x[i] !== x[i] || y[i] !== y[i])
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

export function proposeNitrous(evidence: readonly Evidence[]): { change: ItemProposal | null; held: Held[] } {
	const none = { change: null, held: [] };
	const calibration = evidence[0]?.input.calibration;
	const curve = calibration ? findCurve(calibration, ITEM) : null;
	if (!curve) return none;
	const finder = new AxisFinder(curve.x.points);
	const wanted = curve.x.points.map(() => [] as number[]);
	let stepS = 0.05;
	let seen = 0;
	let met = 0;
	for (const { input } of evidence) {
		const { frame, believed, target, segments } = input;
		const duty = frame.get('nitrousDuty');
		const [flow, base, adder] = [frame.get('fuelFlow'), frame.get('fuelFlowBase'), frame.get('nitrousFuel')];
		const lambda = leanestOf(believed.banks);
		if (!duty || !flow || !base || !adder || !lambda || !target.values) continue;
		stepS = frame.stepS;
		const proven = provenBase(input, duty);
		for (let i = 0; i < frame.length; i++) {
			if (!(duty[i]! > ON_PCT) || segments.flags[i]! & (FLAG.limiter | FLAG.shift | FLAG.misfire)) continue;
			seen++;
			if (!(Math.abs(100 * (lambda[i]! / target.values[i]! - 1)) <= ON_TARGET_PCT)) continue;
			met++;
			if (!proven(i)) continue;
			wanted[finder.nearest(duty[i]!)]!.push(nitrousAdder(adder[i]!, base[i]!, flow[i]!) - adder[i]!);
		}
	}
	if (seen === 0) return none;
	const least = Math.max(3, Math.ceil(LEAST_S / stepS));
	const decimals = decimalsOf(curve);
	const cells = curve.x.points.flatMap((x, i): CellChange[] => {
		const list = wanted[i]!;
		const from = curve.values[i]!;
		if (list.length < least) return [];
		const off = allowed(median(list), list, from);
		if (Math.abs(off) < (QUIET_PCT / 100) * Math.max(from, 1e-9)) return [];
		const to = roundTo(Math.max(0, from + off), decimals);
		return to === from ? [] : [{ x, y: 0, from, to, basis: 'measured', samples: list.length, se: null }];
	});
	if (cells.length === 0)
		return wanted.every((l) => l.length < least)
			? {
					change: null,
					held: [
						{
							item: ITEM,
							code: 'nitrous.fuel',
							reason: met
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
