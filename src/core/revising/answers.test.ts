import { describe, expect, it } from 'vitest';
import { prepare } from '../evidence/prepare.ts';
import { screenPrepared } from '../screening/screen.ts';
import { handMade, pullShapes, vehicleWith, type Shape, calibrationWith } from '../testing/hand-made.ts';
import { propose } from './revise.ts';

const X = [2000, 2500, 3000, 3500, 4000, 4500, 5000, 5500, 6000, 6500];
const Y = [30, 45, 60, 100, 140, 170];
const calibration = calibrationWith(
	['fuel.table', 'spark.table'].map((id) => ({
		id,
		kind: 'map',
		x: { channel: 'rpm', points: X },
		y: { channel: 'map', points: Y },
		values: Y.map(() => X.map(() => (id === 'fuel.table' ? 80 : 25)))
	}))
);
const target = pullShapes()['lambda.target']!;
/** A slow pull, its mixture off by `percent` under load. */
const answered = (percent: number, more: Record<string, Shape> = {}) => {
	const shapes = pullShapes(10, 16);
	const goal = shapes['lambda.target']!;
	const log = handMade(90, 20, {
		...shapes,
		'lambda.b1': (t) => goal(t) * (t >= 10 && t < 26 ? 1 + percent / 100 : 1),
		...more
	});
	const input = prepare(log, { vehicle: vehicleWith(), calibrations: [calibration] });
	return propose([{ input, findings: screenPrepared(input).findings }]).answers!;
};
const of = (list: ReturnType<typeof answered>, code: string) => list.find((a) => a.key.startsWith(code))!;

describe('what a proposal does about each finding', () => {
	it('clears a lean pull, and says from what to what', () => {
		expect(target(0)).toBe(1);
		const lean = of(answered(6), 'fuel.lean');
		expect(lean).toMatchObject({ does: 'cleared' });
		expect(lean.words).toMatch(/^\+[56]\.\d % before, .* left at most$/);
	});
	it('clears one in part where a revision may not add so much: what is left, where, why', () => {
		const lean = of(answered(22), 'fuel.lean');
		expect(lean.does).toBe('partly');
		expect(lean.words).toMatch(/left at \d+ \/ \d+: a revision adds no more at once$/);
	});
	it('takes out what it may of a rich one, and says what stays', () => {
		const rich = of(answered(-9), 'fuel.rich');
		expect(rich.does).toBe('partly');
		expect(rich.words).toMatch(
			/^−9\.0 % before, −\d\.\d % left at .*: (a revision takes no more out at once|not driven long enough to be sure)$/
		);
	});
	it('leaves what no table answers to a repair', () => {
		const hot = of(answered(0, { ect: () => 118 }), 'temp.coolant');
		expect(hot).toMatchObject({ does: 'nothing' });
		expect(hot.words).toMatch(/repaired|found|table/);
	});
	it('counts knock as answered by the timing that comes out', () => {
		const knock = answered(0, { knockRetard: (t) => (t > 16 && t < 17.5 ? 2.5 : 0) });
		expect(of(knock, 'knock.')).toMatchObject({ does: 'cleared' });
	});
});
