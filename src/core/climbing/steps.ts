/** The way of a car up the ladder: what each step reached under full load, and what it brought over the one before it. */
import { deviation, max, mean, median, quantile } from 'd3-array';
import type { Calibration } from '../calibration/document.ts';
import { actsOn } from '../calibration/items.ts';
import { dutyFromPulse } from '../evidence/duty.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { EarlierRung } from './case.ts';
import { comparable, logMean } from './gain.ts';
import { topsInPulls } from './past.ts';

/** Pulls of each from which their scatter is known. Own choice. */
const LEAST_PULLS = 2;
/** Share of the samples of a pull left out at either end of the mixture's spread. Own choice. */
const TAIL = 0.1;

/** Over the full-throttle pulls of a step's logs; `null` where nothing tells. */
export interface StepFigures {
	/** Highest manifold pressure, absolute. */
	boostKpa: number | null;
	/** Median of the final timing. */
	timingDeg: number | null;
	/** Most retard of the controller. */
	knockDeg: number | null;
	dutyPct: number | null;
	/** Believed mixture against its target, percent, positive lean: the middle, and where four of five samples lie; the leaner bank's. */
	mixture: { middlePct: number; lowPct: number; highPct: number } | null;
}

/** Power by the road over the speeds that the pulls of both ran through, percent more than before, and its standard error; days differ. */
export interface RoadGain {
	morePct: number;
	sePct: number;
}

/** What a step can be a step of. */
const KINDS = ['fuel', 'boost', 'timing'] as const;

export interface Step extends StepFigures {
	/** What its calibration changed against that of the step before. */
	changed: (typeof KINDS)[number][];
	/** Over the step before; `null` for the first, and where two pulls of one gear in each are not there. */
	power: RoadGain | null;
}

/** Values of `of` at the samples of all pulls. */
function inPulls({ segments }: Prepared, of: (i: number) => number): number[] {
	const out: number[] = [];
	for (const p of segments.pulls)
		for (let i = p.from; i <= p.to; i++) {
			const v = of(i);
			if (v === v) out.push(v);
		}
	return out;
}

function mixtureOf(logs: EarlierRung['logs']): StepFigures['mixture'] {
	const off = logs.flatMap(({ input }) => {
		const target = input.target.values;
		const banks = input.believed.banks.filter((b) => b !== null);
		if (!target || banks.length === 0) return [];
		return inPulls(input, (i) => {
			let leanest = Number.NaN;
			for (const b of banks) if (!(b[i]! <= leanest) && b[i] === b[i]) leanest = b[i]!;
			return 100 * (leanest / target[i]! - 1);
		});
	});
	const middlePct = median(off);
	return middlePct === undefined
		? null
		: { middlePct, lowPct: quantile(off, TAIL)!, highPct: quantile(off, 1 - TAIL)! };
}

export function figuresOf({ logs }: Pick<EarlierRung, 'logs'>): StepFigures {
	const top = (of: (input: Prepared) => Float32Array | null | undefined) =>
		max(logs.flatMap(({ input }) => topsInPulls(input, of(input)))) ?? null;
	const timing = logs.flatMap(({ input }) => {
		const spark = input.frame.get('spark');
		return spark ? inPulls(input, (i) => spark[i]!) : [];
	});
	return {
		boostKpa: top(({ frame }) => frame.get('map')),
		timingDeg: median(timing) ?? null,
		knockDeg: top(({ frame }) => frame.get('knockRetard')),
		dutyPct: top((input) => dutyFromPulse(input) ?? input.frame.get('injDuty')),
		mixture: mixtureOf(logs)
	};
}

/** @returns `null` where fewer than two pulls of each have speeds in common */
export function roadGain(before: EarlierRung, now: EarlierRung): RoadGain | null {
	const { pulls, speeds } = comparable([before, now]);
	if (speeds.length === 0) return null;
	const [then, here] = [0, 1].map((n) =>
		pulls.flatMap((p) => (p.rung === n ? [logMean(p, speeds, 'kw')] : []))
	);
	if (then!.length < LEAST_PULLS || here!.length < LEAST_PULLS) return null;
	const error = (v: readonly number[]) => deviation(v)! / Math.sqrt(v.length);
	return {
		morePct: 100 * (Math.exp(mean(here!)! - mean(then!)!) - 1),
		sePct: 100 * Math.hypot(error(then!), error(here!))
	};
}

function changedIn(before: Calibration, now: Calibration): Step['changed'] {
	const was = new Map(before.items.map((i) => [i.id, JSON.stringify(i)]));
	const ids = now.items.filter((i) => was.get(i.id) !== JSON.stringify(i)).map((i) => i.id);
	return KINDS.filter((k) => ids.some((id) => actsOn(id, k)));
}

/** @param rungs the oldest first, the one in the car last */
export const stepsOf = (rungs: readonly EarlierRung[]): Step[] =>
	rungs.map((r, n) => {
		const before = rungs[n - 1];
		return {
			...figuresOf(r),
			changed: before ? changedIn(before.calibration, r.calibration) : [],
			power: before && before.logs.length && r.logs.length ? roadGain(before, r) : null
		};
	});
