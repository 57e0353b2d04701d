/**
 * Proposal for the fuel that goes with dry nitrous: where the mixture met its target, base fuel + adder must equal what flowed; the
 * difference goes to the adder, at each solenoid duty (common practice: 215 + 70 against 302 lb/h makes the adder 87).
 */
import { decimalsOf, findCurve, roundTo } from '../calibration/document.ts';
import { AxisFinder } from '../cells/grid.ts';
import { FLAG } from '../segments/segments.ts';
import { median } from '../stats/stats.ts';
import { signed } from '../screening/wording.ts';
import type { Evidence } from './fuel.ts';
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

export function proposeNitrous(evidence: readonly Evidence[]): { change: ItemProposal | null; held: Held[] } {
	const none = { change: null, held: [] };
	const calibration = evidence[0]?.input.calibration;
	const curve = calibration ? findCurve(calibration, ITEM) : null;
	if (!curve) return none;
	const finder = new AxisFinder(curve.x.points);
	const wanted = curve.x.points.map(() => [] as number[]);
	let stepS = 0.05;
	let seen = 0;
	for (const { input } of evidence) {
		const { frame, believed, target, segments } = input;
		const duty = frame.get('nitrousDuty');
		const [flow, base, adder] = [frame.get('fuelFlow'), frame.get('fuelFlowBase'), frame.get('nitrousFuel')];
		const lambda = believed.banks[0];
		if (!duty || !flow || !base || !adder || !lambda || !target.values) continue;
		stepS = frame.stepS;
		for (let i = 0; i < frame.length; i++) {
			if (!(duty[i]! > ON_PCT) || segments.flags[i]! & (FLAG.limiter | FLAG.shift | FLAG.misfire)) continue;
			seen++;
			if (!(Math.abs(100 * (lambda[i]! / target.values[i]! - 1)) <= ON_TARGET_PCT)) continue;
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
		const off = median(list);
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
							reason:
								'the mixture never met its target within 2 % while nitrous was on: the adder can only be judged then'
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
