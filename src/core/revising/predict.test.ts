/** What another revision would have done along a log, by the fuel model's own equation: worked by hand. */
import { describe, expect, it } from 'vitest';
import { type Calibration } from '../calibration/document.ts';
import { prepare } from '../evidence/prepare.ts';
import { handMade, pullShapes, vehicleWith, calibrationWith } from '../testing/hand-made.ts';
import { predict } from './predict.ts';
import { replay } from './replay.ts';

const table = (id: string, value: number, unit: string) => ({
	id,
	kind: 'map',
	unit,
	x: { channel: 'rpm', points: [500, 8000] },
	y: { channel: 'map', points: [20, 250] },
	values: [
		[value, value],
		[value, value]
	]
});
const made = (fuelModel: string, ...items: object[]): Calibration => calibrationWith(items, { fuelModel });
const input = (c: Calibration, shapes: Record<string, (t: number) => number> = {}) =>
	prepare(handMade(40, 20, { ...pullShapes(), iat: (t) => (t < 20 ? 20 : 60), ...shapes }), {
		vehicle: vehicleWith(),
		calibrations: [c]
	});
/** In the pull, well after its beginning. */
const AT = 13 * 20;
const LATE = 30 * 20;

const iatTrim = (cold: number, hot: number) => ({
	id: 'fuel.iatTrim',
	kind: 'curve',
	unit: '%',
	x: { channel: 'iat', points: [20, 60] },
	values: [cold, hot]
});

describe('fuel', () => {
	const VE = table('fuel.table', 80, '%');
	const target = table('lambda.target', 0.9, 'λ');
	it('speed-density: in proportion to the table, and against the target', () => {
		const now = made('speed-density', VE, target);
		const next = made('speed-density', table('fuel.table', 84, '%'), table('lambda.target', 0.88, 'λ'));
		const p = predict(input(now), now, next);
		expect(p.fuelRatio[AT]).toBeCloseTo((84 / 80) * (0.9 / 0.88), 5);
		expect(p.lambdaAfter[0]![AT]! * p.fuelRatio[AT]!).toBeCloseTo(p.lambdaBefore[0]![AT]!, 5);
	});
	it('speed-density: a higher flow of the injectors is less fuel from the same injector', () => {
		const flow = (value: number) => ({ id: 'injector.flow', kind: 'scalar', unit: 'cc/min', value });
		const now = made('speed-density', VE, target, flow(500));
		expect(predict(input(now), now, made('speed-density', VE, target, flow(530))).fuelRatio[AT]).toBeCloseTo(
			500 / 530,
			5
		);
	});
	it('other injectors come with their revision: the same fuel in another time, by both models', () => {
		const flow = (value: number) => ({ id: 'injector.flow', kind: 'scalar', unit: 'cc/min', value });
		const now = made('speed-density', VE, target, flow(650));
		const next = made('speed-density', VE, target, flow(800));
		const p = predict(input(now), now, next);
		expect(p.fuelRatio[AT]).toBeCloseTo(1, 5);
		expect(p.lambdaAfter[0]![AT]!).toBeCloseTo(p.lambdaBefore[0]![AT]!, 5);
		expect(p.dutyAfter![AT]! / p.dutyBefore![AT]!).toBeLessThan(0.95);
		expect(replay(input(now), next).unknown.join(' ')).toContain(
			'whether injectors of 800 cc/min are in: this counts on them. With those of 650 cc/min it would be 23 % leaner than shown'
		);
		const set = (ms: number, of: number) =>
			made(
				'pulse-width',
				{ id: 'fuel.referencePulse', kind: 'scalar', unit: 'ms', value: ms },
				VE,
				target,
				flow(of)
			);
		const old = set(16, 650);
		expect(predict(input(old), old, set(13, 800)).fuelRatio[AT]).toBeCloseTo(1, 5);
		expect(predict(input(old), old, set(16, 800)).fuelRatio[AT]).toBeCloseTo(800 / 650, 5);
	});
	it('pulse-width: reference, table and trim multiply; the target changes nothing', () => {
		const pulse = (ms: number, share: number, trim: number, lambda: number) =>
			made(
				'pulse-width',
				{ id: 'fuel.referencePulse', kind: 'scalar', unit: 'ms', value: ms },
				table('fuel.table', share, '%'),
				{ id: 'fuel.trim', kind: 'scalar', unit: '%', value: trim },
				table('lambda.target', lambda, 'λ')
			);
		const now = pulse(10, 60, 0, 0.9);
		expect(predict(input(now), now, pulse(5, 120, 5, 0.8)).fuelRatio[AT]).toBeCloseTo(1.05, 5);
	});
	it('the mean of the cylinder trims counts', () => {
		const trims = (values: number[]) => ({
			id: 'fuel.cylTrim',
			kind: 'curve',
			unit: '%',
			x: { channel: 'cylinder', points: values.map((_, i) => i + 1) },
			values
		});
		const now = made('speed-density', VE, target, trims([0, 0, 0, 0]));
		expect(
			predict(input(now), now, made('speed-density', VE, target, trims([4, 0, 4, 0]))).fuelRatio[AT]
		).toBeCloseTo(1.02, 5);
	});
	it('a trim by intake air acts where the air has that temperature', () => {
		const now = made('speed-density', VE, target, iatTrim(0, 0));
		const p = predict(input(now), now, made('speed-density', VE, target, iatTrim(0, -8)));
		expect(p.fuelRatio[AT]).toBeCloseTo(1, 5);
		expect(p.fuelRatio[LATE]).toBeCloseTo(0.92, 5);
		// Half of the way in temperature is half of the trim.
		const half = predict(
			input(now, { iat: () => 40 }),
			now,
			made('speed-density', VE, target, iatTrim(0, -8))
		);
		expect(half.fuelRatio[AT]).toBeCloseTo(0.96, 5);
	});
	it('a trim by the temperature of the fuel is read by its own channel', () => {
		const trim = (hot: number) => ({
			...iatTrim(0, hot),
			id: 'fuel.tempTrim',
			x: { channel: 'fuelTemp', unit: '°C', points: [20, 60] }
		});
		const now = made('speed-density', VE, target, trim(0));
		const p = predict(input(now, { fuelTemp: () => 50 }), now, made('speed-density', VE, target, trim(8)));
		expect(p.fuelRatio[AT]).toBeCloseTo(1.06, 5);
		expect(p.fuelRatio[LATE]).toBeCloseTo(1.06, 5);
	});
	it('a trim by a channel that is not logged is refused where it changed, and cancels out where it didn’t', () => {
		const now = made('speed-density', VE, target, iatTrim(0, -4));
		const { iat: _, ...cold } = { ...pullShapes(), iat: () => 0 };
		const blind = prepare(handMade(40, 20, cold), { vehicle: vehicleWith(), calibrations: [now] });
		expect(() => predict(blind, now, made('speed-density', VE, target, iatTrim(0, -8)))).toThrow(
			'Fuel trim by intake air'
		);
		const same = made('speed-density', table('fuel.table', 84, '%'), target, iatTrim(0, -4));
		expect(predict(blind, now, same).fuelRatio[AT]).toBeCloseTo(1.05, 5);
	});
});

describe('timing', () => {
	it('moves by the tables and by what is added to them', () => {
		const spark = (deg: number, hot: number) =>
			made(
				'speed-density',
				table('fuel.table', 80, '%'),
				table('lambda.target', 0.9, 'λ'),
				table('spark.table', deg, '°'),
				{
					...iatTrim(0, hot),
					id: 'spark.iatTrim',
					unit: '°'
				}
			);
		const now = spark(20, 0);
		const p = predict(input(now, { spark: () => 18 }), now, spark(21, -3));
		expect(p.sparkAfter![AT]).toBeCloseTo(19, 4);
		expect(p.sparkAfter![LATE]).toBeCloseTo(16, 4);
	});
});
