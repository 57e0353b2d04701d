import { describe, expect, it } from 'vitest';
import { prepare } from '../evidence/prepare.ts';
import { parseReadings } from '../evidence/readings.ts';
import { handMade, pullShapes, vehicleWith, type Shape } from '../testing/hand-made.ts';
import { saeJ1349Factor } from './air.ts';
import { kwOf, nmOf, powerOf, powerSide } from './power-curves.ts';

const sheet = (points: [number, number][], quantity = 'powerKw') =>
	parseReadings({
		schema: 'tanto.readings/1',
		source: 'dyno',
		readings: points.map(([rpm, value]) => ({ quantity, rpm, value }))
	});
const inputOf = (more: Record<string, Shape> = {}, vehicle = vehicleWith()) =>
	prepare(handMade(30, 20, { ...pullShapes(), ...more }), { vehicle });
const input = inputOf();

describe('power and torque', () => {
	it('1 kW at 9549.3 rpm is 1 Nm (P = 2π·n·T)', () => {
		expect(kwOf(1, 9549.2966)).toBeCloseTo(1, 6);
		expect(nmOf(100, 5000)).toBeCloseTo(190.9859, 3);
	});
	it('of two typed curves the gain comes back to the last digit, at the speeds that both have', () => {
		const before = powerSide(input, [
			sheet([
				[3000, 100.1],
				[3500, 120.2],
				[4000, 150.3],
				[5000, 180]
			])
		]);
		const after = powerSide(input, [
			sheet([
				[2500, 90],
				[3000, 111.4],
				[3500, 140.5],
				[4000, 171.6]
			])
		]);
		const answer = powerOf(after, before);
		expect(answer.gainBy).toBe('typed');
		expect(answer.gain.map((g) => [g.rpm, g.powerKw])).toEqual([
			[3000, 11.3],
			[3500, 20.3],
			[4000, 21.3]
		]);
		expect(answer.gain[0]!.torqueNm).toBeCloseTo(nmOf(11.3, 3000), 4);
		expect(answer.peaks.before).toMatchObject({ powerKw: 180, powerRpm: 5000 });
		expect(answer.peaks.gain!.powerKw).toBe(-8.4);
	});
	it('typed with torque is the same curve', () => {
		const [curve] = powerOf(powerSide(input, [sheet([[3000, 300]], 'torqueNm')]), null).curves;
		expect(curve).toMatchObject({ source: 'typed', of: 'after', torqueNm: [300], corrected: false });
		expect(curve!.powerKw[0]).toBeCloseTo(94.2478, 3);
	});
	it('logged by the controller stands beside it, by 250 rpm over the widest pull', () => {
		const logged = powerOf(powerSide(inputOf({ torque: () => 250 }), []), null).curves.find(
			(c) => c.source === 'logged'
		)!;
		expect(logged.torqueNm.every((t) => Math.abs(t! - 250) < 1e-3)).toBe(true);
		expect(logged.rpm.length).toBeGreaterThan(8);
	});
	it('is brought to standard air as the boost is controlled: a turbo that is held over the barometer goes with the air', () => {
		const corrected = (engine: object) =>
			powerOf(
				powerSide(inputOf({ torque: () => 250, ambientTemp: () => 20 }, vehicleWith(engine)), []),
				null
			).curves.find((c) => c.source === 'logged' && c.corrected);
		expect(corrected({})).toBeUndefined();
		expect(corrected({ boostControl: 'absolute' })).toBeUndefined();
		for (const boostControl of ['gauge', 'ratio', 'centrifugal'])
			expect(corrected({ boostControl })!.torqueNm[3]).toBeCloseTo(250 * saeJ1349Factor(20, 100), 2);
		expect(corrected({ aspiration: 'na', boostControl: 'absolute' })).toBeDefined();
	});
	it('a reading that can’t be is refused by its name', () => {
		expect(() => sheet([[3000, 9000]])).toThrow('powerKw of 9000');
	});
});
