import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';

const RATE = 20;
const drive = (shapes: Record<string, Shape>, seconds = 30, rate = RATE) => handMade(seconds, rate, shapes);

describe('knock', () => {
	const knocking = (retard: Shape, more: Record<string, Shape> = {}) =>
		reportOf(drive({ ...pullShapes(), knockRetard: retard, ...more }, 30, 50), vehicleWith());
	const stairs: Shape = (t) => (t < 12 || t >= 16 ? 0 : t < 13 ? 1 : t < 14 ? 2.2 : 3.4);
	const blip =
		(at: number, deg: number): Shape =>
		(t) =>
			t >= at && t < at + 0.1 ? deg : 0;
	const blips =
		(deg: number, count = 6): Shape =>
		(t) =>
			Math.max(...Array.from({ length: count }, (_, i) => blip(10.8 + i * 0.85, deg)(t)));

	it('a staircase is real, with the place of its peak', () => {
		const f = findingOf(knocking(stairs, { airmass: () => 1.36, spark: () => 15 }), 'knock.real')!;
		expect(f).toMatchObject({ severity: 'fix', unit: '°' });
		expect(f.value).toBeCloseTo(3.4, 2);
		expect(f.summary).toContain('3 steps up without falling back under half');
		expect(f.summary).toContain('1.36 g per cylinder');
	});
	it('common practice: 3.2° at 4322 rpm and 1.36 g per cylinder is told with exactly these', () => {
		const rpm: Shape = (t) => (t >= 10 && t < 16 ? 2500 + (t - 10) * 650 : 2500);
		const peakAt = 10 + (4322 - 2500) / 650;
		const retard: Shape = (t) => (t < peakAt - 0.6 || t > peakAt + 0.5 ? 0 : t < peakAt - 0.02 ? 1.5 : 3.2);
		const f = findingOf(knocking(retard, { rpm, airmass: () => 1.36 }), 'knock.real')!;
		expect(f.summary).toMatch(/3\.2° pulled at 43[12]\d rpm, 170 kPa, 1\.36 g per cylinder/);
	});
	it('six short equal blips look false, stay unproved, and keep their severity', () => {
		const report = knocking(blips(2));
		expect(findingOf(report, 'knock.blips')).toMatchObject({ severity: 'watch' });
		expect(findingOf(report, 'knock.real')).toBeUndefined();
		expect(findingOf(report, 'knock.blips')!.title).toContain('unproved');
	});
	it('four blips are not enough: unclear, treated as real', () => {
		const report = knocking(blips(2, 4));
		expect(findingOf(report, 'knock.unclear')?.severity).toBe('watch');
		expect(findingOf(report, 'knock.blips')).toBeUndefined();
	});
	it('blips that grow are no false knock', () => {
		const growing: Shape = (t) => blips(1)(t) * (1 + Math.max(0, t - 10.8) * 0.8);
		expect(findingOf(knocking(growing), 'knock.blips')).toBeUndefined();
	});
	it('a staircase does not swallow blips elsewhere in the same pull', () => {
		const late: Shape = (t) => (t >= 14.6 && t < 15.9 ? (t < 15.1 ? 1.2 : t < 15.5 ? 2.4 : 3.6) : 0);
		const early: Shape = (t) =>
			Math.max(...Array.from({ length: 6 }, (_, i) => blip(10.4 + i * 0.6, 1.5)(t)));
		const report = knocking((t) => Math.max(late(t), early(t)));
		expect(findingOf(report, 'knock.real')).toBeDefined();
		expect(findingOf(report, 'knock.blips')).toBeDefined();
	});
	it.each([
		[0.9, undefined],
		[1.1, 'watch'],
		[2.9, 'watch'],
		[3.1, 'fix'],
		[5.9, 'fix'],
		[6.1, 'stop']
	])('a peak of %f° while loaded is %s', (deg, severity) => {
		const report = knocking(blip(13, deg));
		expect(findingOf(report, 'knock.unclear')?.severity).toBe(severity);
	});
	it('is one step lower where the engine is not loaded', () => {
		const report = knocking(blip(25, 6.5));
		expect(findingOf(report, 'knock.unclear')?.severity).toBe('fix');
	});
	it('repeats in the same cell in two pulls, lasting: real', () => {
		const two = (t: number) => (t >= 20 && t < 26 ? t - 10 : t);
		const shapes = Object.fromEntries(
			Object.entries(pullShapes()).map(([id, s]) => [id, (t: number) => s(two(t))])
		);
		const report = reportOf(
			drive({ ...shapes, knockRetard: (t) => (two(t) >= 13 && two(t) < 13.4 ? 1.5 : 0) }, 40, 50),
			vehicleWith()
		);
		expect(findingOf(report, 'knock.real')?.summary).toContain('in the same cell in 2 pulls');
		expect(findingOf(report, 'knock.real')?.title).toBe('Knock that repeats: real');
	});
	it('is not checked without a knock channel', () => {
		const { knockRetard: _k, ...rest } = pullShapes();
		const report = reportOf(drive(rest), vehicleWith());
		for (const code of ['knock.real', 'knock.blips', 'knock.unclear'])
			expect(outcomeOf(report, code)).toMatchObject({ outcome: 'not-checked', missing: 'knockRetard' });
	});
	it('takes the worst cylinder when only cylinders are logged, and names it', () => {
		const { knockRetard: _k, ...rest } = pullShapes();
		const report = reportOf(
			drive({ ...rest, 'knockRetard.cyl1': () => 0, 'knockRetard.cyl3': stairs }, 30, 50),
			vehicleWith()
		);
		expect(findingOf(report, 'knock.real')?.cylinder).toBe(3);
	});
});
