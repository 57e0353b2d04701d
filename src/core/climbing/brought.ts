/** What the last rung brought, beside the one before it: boost, knock, duty, and the power of the road. */
import { deviation, max, mean } from 'd3-array';
import { dutyFromPulse } from '../evidence/duty.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { EarlierRung, LadderCase } from './case.ts';
import { comparable, logMean } from './gain.ts';
import { topsInPulls } from './past.ts';

/** Pulls of each from which their scatter is known. Own choice. */
const LEAST_PULLS = 2;

/** Highest values over the loaded driving of a rung's logs; `null` where nothing tells. */
export interface RungFigures {
	boostKpa: number | null;
	/** Retard of the controller. */
	knockDeg: number | null;
	dutyPct: number | null;
}

export interface Brought {
	before: RungFigures;
	now: RungFigures;
	/** Power by the road over the speeds that the pulls of both ran through, percent more than before, and its standard error; days differ. */
	power: { morePct: number; sePct: number } | null;
}

/** @returns `null` where there is no rung before this one, or one of them has no log */
export function broughtBy(c: LadderCase): Brought | null {
	const before = (c.earlier ?? []).findLast((r) => r.logs.length > 0);
	return before && c.logs.length > 0
		? { before: figuresOf(before), now: figuresOf(c), power: powerOf(before, c) }
		: null;
}

function figuresOf({ logs }: Pick<EarlierRung, 'logs'>): RungFigures {
	const top = (of: (input: Prepared) => Float32Array | null | undefined) =>
		max(logs.flatMap(({ input }) => topsInPulls(input, of(input)))) ?? null;
	return {
		boostKpa: top(({ frame }) => frame.get('map')),
		knockDeg: top(({ frame }) => frame.get('knockRetard')),
		dutyPct: top((input) => dutyFromPulse(input) ?? input.frame.get('injDuty'))
	};
}

function powerOf(before: EarlierRung, now: Pick<LadderCase, 'calibration' | 'logs'>): Brought['power'] {
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
