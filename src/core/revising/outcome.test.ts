import { describe, expect, it } from 'vitest';
import type { PullCurves } from '../evidence/segments/pull-curves.ts';
import { errorMap, outcomesOf, overallVerdict, predictionsOf, type ErrorMap, type Shown } from './outcome.ts';
import type { Replay } from './replay-schema.ts';
import type { DraftChange } from './edit-schema.ts';
import { findMap } from '../calibration/lookup.ts';
import { calibrationWith } from '../testing/hand-made.ts';

const error = (percent: number | null): ErrorMap => ({
	x: [3000, 4000],
	y: [60],
	percent: [[percent, percent]]
});
const change = (item: string, x = 3000, y = 60): DraftChange => ({
	item,
	x,
	y,
	from: 80,
	to: 84,
	basis: 'measured',
	samples: 40,
	se: 0.1,
	reason: 'r',
	findings: []
});
const pull = (curves: PullCurves['curves'], summary: Partial<PullCurves['summary']> = {}): PullCurves => ({
	fromS: 10,
	toS: 16,
	gear: 3,
	rpm: [2000, 3000, 4000, 5000, 6000],
	curves,
	summary: {
		fromRpm: 2000,
		toRpm: 6000,
		highestMapKpa: 170,
		leanestPct: 1,
		knockDeg: 0,
		dutyPct: 70,
		iatC: 40,
		...summary
	}
});
const shown = (percent: number | null, ...pulls: PullCurves[]): Shown => ({ error: error(percent), pulls });
const AXIS = [2000, 3000, 4000, 5000, 6000];
const judged = (item: string, before: Shown, after: Shown) =>
	outcomesOf([change(item)], before, after, (id) => (id.startsWith('spark') ? AXIS : null))[0]!;

describe('outcome of a fuel change', () => {
	it.each([
		[6, 0.5, 'worked'],
		[8, 5, 'partly'],
		[6, 6, 'nothing'],
		[3, 6, 'worse'],
		// As good as a sensor can tell: an error that was small and stays small has not got worse.
		[0.4, 1.6, 'worked']
	])('from %f %% to %f %%: %s', (before, after, verdict) => {
		expect(judged('fuel.table', shown(before), shown(after))).toMatchObject({
			measure: 'mixture',
			unit: '%',
			places: 1,
			before,
			after,
			verdict
		});
	});
	it('cells that were not driven again, or hardly, are told as that', () => {
		expect(judged('fuel.table', shown(5), shown(null)).verdict).toBe('not-visited');
		expect(judged('fuel.table', shown(5), { error: null, pulls: [] }).verdict).toBe('not-visited');
	});
	it('members of a blend share their cells; what acts everywhere is judged everywhere', () => {
		const two = outcomesOf(
			[change('fuel.table@105'), change('fuel.table@115')],
			shown(6),
			shown(1),
			() => null
		);
		expect(two).toMatchObject([{ items: ['fuel.table@105', 'fuel.table@115'], places: 1 }]);
		for (const item of ['maf.curve', 'fuel.trim', 'injector.flow', 'injector.deadTime'])
			expect(judged(item, shown(6), shown(1))).toMatchObject({ places: 2, verdict: 'worked' });
	});
});

describe('the error of a log', () => {
	const field = { percent: [[5, 5]], sd: [[1, 1]], trust: [[1, 1]] };
	const axes = {
		xChannel: 'rpm',
		xUnit: 'rpm',
		x: [3000, 4000],
		yChannel: 'map',
		yUnit: 'kPa',
		y: [199.947953]
	};
	const table = (unit: string, y: number) =>
		findMap(
			calibrationWith([
				{
					id: 'fuel.table',
					kind: 'map',
					x: { channel: 'rpm', points: [3000, 4000] },
					y: { channel: 'map', unit, points: [y] },
					values: [[80, 80]]
				}
			]),
			'fuel.table'
		);
	it('is told by the points of the table that was changed, whatever unit they are in', () => {
		const map = errorMap({ axes, all: field, banks: [] }, table('psi', 29))!;
		expect([map.x, map.y]).toEqual([[3000, 4000], [29]]);
		expect(
			outcomesOf(
				[change('fuel.table', 3000, 29)],
				{ error: map, pulls: [] },
				{ error: map, pulls: [] },
				() => null
			)
		).toMatchObject([{ places: 1 }]);
	});
});

describe('outcome of a timing change', () => {
	const knocking = (deg: number, at = 1) =>
		shown(0, pull({ knock: AXIS.map((_, i) => (i === at ? deg : 0)) }));
	it.each([
		[4, 0.5, 'worked'],
		[5, 3, 'partly'],
		[4, 3.8, 'nothing'],
		[0, 3, 'worse']
	])('knock from %f° to %f°: %s', (before, after, verdict) => {
		expect(judged('spark.table', knocking(before), knocking(after))).toMatchObject({
			measure: 'knock',
			unit: '°',
			before,
			after,
			verdict,
			rpm: [2000, 4000]
		});
	});
	it('knock at other engine speeds is not of this change', () => {
		expect(judged('spark.table', knocking(4), knocking(5, 4))).toMatchObject({ after: 0, verdict: 'worked' });
	});
	it('without a pull in both logs it was not visited', () => {
		expect(judged('spark.table', knocking(4), shown(0)).verdict).toBe('not-visited');
	});
});

describe('outcome of a boost change', () => {
	const boosted = (...map: number[]) => shown(0, pull({ map, boostTarget: map.map(() => 180) }));
	it('distance from the set point, once the turbine is up to speed', () => {
		expect(judged('boost.target', boosted(110, 165, 160), boosted(110, 178, 179))).toMatchObject({
			measure: 'boost',
			unit: 'kPa',
			before: 17.5,
			after: 1.5,
			verdict: 'worked'
		});
	});
});

describe('a revision as a whole', () => {
	it('is as good as its worst part; limits and settings have no outcome', () => {
		const both = outcomesOf(
			[change('fuel.table'), change('spark.table'), change('limit.rpm')],
			shown(6, pull({ knock: [0, 0, 0, 0, 0] })),
			shown(0.5, pull({ knock: [0, 4, 0, 0, 0] })),
			() => AXIS
		);
		expect(both.map((o) => o.verdict)).toEqual(['worked', 'worse']);
		expect(overallVerdict(both)).toBe('worse');
		expect(overallVerdict([])).toBe('not-visited');
	});
});

describe('predicted and measured', () => {
	const replay = (duty: number, leanest: number, error: number): Replay =>
		({
			pulls: [
				{ gear: 3, summary: { dutyPct: [60, duty], leanestPct: [5, leanest] } },
				{ gear: 4, summary: { dutyPct: [60, 99], leanestPct: [5, 50] } }
			],
			map: {
				x: [3000, 4000],
				y: [60],
				after: [[error, -error]],
				samples: [[30, 30]]
			}
		}) as unknown as Replay;
	it('in gears that both have; says by how much it missed', () => {
		const [duty, leanest, mixture] = predictionsOf(
			replay(72, 1, 0.5),
			shown(1, pull({}, { dutyPct: 77, leanestPct: 1.5 }))
		);
		expect(duty).toEqual({ what: 'duty', unit: '%', predicted: 72, measured: 77, off: 5, missed: true });
		expect(leanest).toMatchObject({ predicted: 1, measured: 1.5, missed: false });
		expect(mixture).toMatchObject({ predicted: 0.5, measured: 1, missed: false });
	});
	it('nothing to compare, nothing said', () => {
		expect(predictionsOf(replay(72, 1, 0.5), { error: null, pulls: [] })).toEqual([]);
	});
});

describe('the error of a log', () => {
	const axes = { xChannel: 'rpm', x: [3000, 4000], yChannel: 'map', y: [60] };
	it('counts where its field is known within 2.5 %', () => {
		const all = { percent: [[4, 3]], sd: [[1, 4]], trust: [[0.99, 0.9]] };
		expect(errorMap({ axes, all, banks: [all] })).toEqual({ x: axes.x, y: axes.y, percent: [[4, null]] });
	});
	it('is none of a log that says nothing', () => {
		expect(errorMap({ axes, all: null, banks: [null] })).toBeNull();
		expect(errorMap(null)).toBeNull();
	});
});

describe('trims of cylinders', () => {
	const seen = (furthestPct: number | null, lambdaPct = 0.5): Shown => ({
		error: null,
		pulls: [],
		cylinders: [
			{ cylinder: 1, lambdaPct: 0, furthestPct: 0 },
			{ cylinder: 4, lambdaPct, furthestPct }
		]
	});
	const of = (before: Shown, after: Shown) =>
		outcomesOf([{ ...change('fuel.cylTrim', 4, 0), from: 0, to: 6 }], before, after, () => null)[0]!;
	it('are told by the place at which the trimmed cylinder is furthest, not by its mean over all speeds', () => {
		expect(of(seen(6.2), seen(0.8))).toMatchObject({
			measure: 'cylinders',
			before: 6.2,
			after: 0.8,
			verdict: 'worked'
		});
		expect(of(seen(6.2), seen(6)).verdict).toBe('nothing');
		expect(of(seen(2.5), seen(-6)).verdict).toBe('worse');
	});
	it('where no log tells cylinders apart nothing is said of them', () => {
		expect(of(seen(6.2), shown(null))).toMatchObject({ places: 0, verdict: 'not-visited' });
	});
});
