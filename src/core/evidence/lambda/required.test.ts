/** The required correction: k = lambda / target × (1 + STFT) × (1 + LTFT), worked by hand. */
import { describe, expect, it } from 'vitest';
import {
	handMade,
	pullShapes,
	twoBanks,
	vehicleWith,
	type Shape,
	calibrationWith
} from '../../testing/hand-made.ts';
import { prepare } from '../prepare.ts';

/** Cruise at t = 5, in the pull at t = 13. */
const CRUISE = 5 * 20;
const PULL = 13 * 20;
const k = (
	shapes: Record<string, Shape>,
	controller: object = {},
	vehicle = vehicleWith({}, { controller })
) => prepare(handMade(40, 20, { ...pullShapes(), ...shapes }), { vehicle }).required;

describe('required correction', () => {
	it('on target it is one', () => {
		const [b1] = k({}).banks;
		expect(b1![CRUISE]).toBeCloseTo(1, 5);
		expect(b1![PULL]).toBeCloseTo(1, 5);
	});
	it('lean by five percent wants five percent more', () => {
		expect(k({ 'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.84 : 1.05) }).banks[0]![CRUISE]).toBeCloseTo(
			1.05,
			4
		);
	});
	it('what closed loop has added already belongs to it', () => {
		expect(k({ 'stft.b1': () => 6 }).banks[0]![CRUISE]).toBeCloseTo(1.06, 4);
		expect(k({ 'stft.b1': () => 6, 'ltft.b1': () => -4 }).banks[0]![CRUISE]).toBeCloseTo(1.06 * 0.96, 4);
	});
	it('a reading at its end is no measurement', () => {
		expect(k({ 'lambda.b1': () => 0.5 }).banks[0]![CRUISE]).toBeNaN();
		expect(k({ 'lambda.b1': () => 1.9 }).banks[0]![CRUISE]).toBeNaN();
	});
	it('the target comes from the table of the revision where it isn’t logged', () => {
		const calibration = calibrationWith(
			[
				{
					id: 'lambda.target',
					kind: 'map',
					x: { channel: 'rpm', points: [500, 7000] },
					y: { channel: 'map', points: [20, 250] },
					values: [
						[0.95, 0.95],
						[0.95, 0.95]
					]
				}
			],
			{ fuelModel: 'maf' }
		);
		const shapes: Record<string, Shape> = { ...pullShapes(), 'lambda.b1': () => 1 };
		delete shapes['lambda.target'];
		const input = prepare(handMade(40, 20, shapes), { vehicle: vehicleWith(), calibrations: [calibration] });
		expect(input.target.from).toBe('table');
		expect(input.required.banks[0]![CRUISE]).toBeCloseTo(1 / 0.95, 4);
		expect(prepare(handMade(40, 20, shapes), { vehicle: vehicleWith() }).required.banks).toEqual([null]);
	});
});

describe('the learned trim at full load', () => {
	const learned = { 'ltft.b1': () => 5 };
	it.each([
		['applied', 1.05],
		['positive-only', 1.05],
		['ignored', 1]
	])('%s by the controller', (learnedTrimAtFullLoad, expected) => {
		const { banks, loadedUncertain } = k(learned, { learnedTrimAtFullLoad });
		expect(banks[0]![PULL]).toBeCloseTo(expected, 4);
		expect(banks[0]![CRUISE]).toBeCloseTo(1.05, 4);
		expect(loadedUncertain).toEqual([false]);
	});
	it('a negative one counts only where all of it is applied', () => {
		const negative = { 'ltft.b1': () => -5 };
		expect(k(negative, { learnedTrimAtFullLoad: 'positive-only' }).banks[0]![PULL]).toBeCloseTo(1, 4);
		expect(k(negative, { learnedTrimAtFullLoad: 'applied' }).banks[0]![PULL]).toBeCloseTo(0.95, 4);
	});
	it('large and nobody knows: loaded samples decide nothing', () => {
		expect(k(learned).loadedUncertain).toEqual([true]);
		expect(k({ 'ltft.b1': () => 1.5 }).loadedUncertain).toEqual([false]);
	});
});

describe('two banks', () => {
	const both = { 'lambda.b2': (t: number) => (t >= 10 && t < 16 ? 0.8 : 1.03) };
	it('each has its own', () => {
		const { banks } = k(both, {}, twoBanks());
		expect(banks[0]![CRUISE]).toBeCloseTo(1, 3);
		expect(banks[1]![CRUISE]).toBeCloseTo(1.03, 3);
	});
	it('one whose trims aren’t logged says nothing while the loop is closed', () => {
		const { banks } = k({ ...both, 'stft.b1': () => 4 }, {}, twoBanks());
		expect(banks[0]![CRUISE]).toBeCloseTo(1.04, 3);
		expect(banks[1]![CRUISE]).toBeNaN();
	});
});
