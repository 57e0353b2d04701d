/** One trim of a cylinder for all speeds: what its leanest speed needs goes in, only what is too much everywhere comes out. */
import { describe, expect, it } from 'vitest';
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';
import { prepare } from '../evidence/prepare.ts';
import { handMade, pullShapes, vehicleWith, type Shape } from '../testing/hand-made.ts';
import { wantedByCylinder } from './cylinders.ts';

const shapes = pullShapes();
/** Lambda of the fourth cylinder against that of the others, by engine speed. */
function wanted(fourth: (rpm: number) => number, towards?: number, goal = 1) {
	const rpm = shapes['rpm']!;
	const lambda: Shape = (t) => (rpm(t) > 2000 ? 0.8 : 1);
	const log = handMade(60, 20, {
		...shapes,
		'lambda.target': (t) => goal * (rpm(t) > 2000 ? 0.8 : 1),
		'lambda.cyl1': lambda,
		'lambda.cyl2': (t) => lambda(t) * 1.002,
		'lambda.cyl3': (t) => lambda(t) * 0.998,
		'lambda.cyl4': (t) => lambda(t) * fourth(rpm(t))
	});
	const input = prepare(log, { vehicle: vehicleWith({ aspiration: 'turbo' }) });
	return wantedByCylinder([{ input, findings: [] }], [1, 2, 3, 4], DEFAULT_STRATEGY, towards);
}

describe('what a cylinder wants', () => {
	it('rich low down and right higher up: nothing comes out, and the speeds are said', () => {
		const fourth = wanted((rpm) => (rpm < 4200 ? 0.92 : 1)).get(4)!;
		expect(fourth.points).toEqual([0]);
		expect(fourth.richAtRpm![1]).toBeLessThanOrEqual(4500);
	});
	it('lean at the top only: as much as it needs there', () => {
		const fourth = wanted((rpm) => (rpm > 4500 ? 1.04 : 1)).get(4)!;
		expect(fourth.points[0]).toBeGreaterThan(3);
		expect(fourth.points[0]).toBeLessThan(4.5);
	});
	it('rich everywhere, more at one end: the least of it comes out', () => {
		const fourth = wanted((rpm) => (rpm < 4200 ? 0.92 : 0.96)).get(4)!;
		expect(fourth.points[0]).toBeLessThan(-1);
		expect(fourth.points[0]).toBeGreaterThanOrEqual(-4);
	});
	it('rich against the others and lean for its target: it keeps what it has', () => {
		expect(wanted(() => 0.92, undefined, 0.85).get(4)!.points).toEqual([0]);
		expect(wanted(() => 0.92, undefined, 0.94).get(4)!.points[0]).toBeGreaterThanOrEqual(-2.5);
	});
	it('as the others: nothing; and a chosen good cylinder is what it is brought to', () => {
		expect(wanted(() => 1).get(4)!.points).toEqual([0]);
		const towards = wanted(() => 0.95, 4);
		expect(towards.get(4)!.points).toEqual([0]);
		expect(towards.get(1)!.points[0]).toBeGreaterThan(4);
	});
});
