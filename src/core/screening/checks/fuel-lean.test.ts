import { wordsOf } from '../words.ts';
import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	twoBanks,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';

const RATE = 20;
const drive = (shapes: Record<string, Shape>, seconds = 30, rate = RATE) => handMade(seconds, rate, shapes);
/** The mixture is `percent` off target between two moments (as the sensor shows it, its lag later). */
const off = (percent: number, from: number, to: number): Shape => {
	const target = pullShapes()['lambda.target']!;
	return (t) => target(t - 0.1) * (t >= from + 0.1 && t < to + 0.1 ? 1 + percent / 100 : 1);
};

describe('fuel.lean', () => {
	const run = (percent: number, from = 12, to = 15) =>
		reportOf(drive({ ...pullShapes(), 'lambda.b1': off(percent, from, to) }), vehicleWith());
	it.each([
		[2.8, undefined],
		[3.4, 'watch'],
		[4.8, 'watch'],
		[5.5, 'fix']
	])('%f %% over target at λ 0.80 is %s', (percent, severity) => {
		expect(findingOf(run(percent), 'fuel.lean')?.severity).toBe(severity);
	});
	it('is a stop from 8 % on, with the value signed and the moment given', () => {
		const f = findingOf(run(9), 'fuel.lean')!;
		expect(f).toMatchObject({ severity: 'stop', unit: '%' });
		expect(f.value).toBeCloseTo(9, 1);
		expect(f.ranges![0]!.from).toBeGreaterThan(11.7);
		expect(f.ranges![0]!.to).toBeLessThan(15.3);
	});
	it('is a stop at λ over 0.85 under boost when off target by over 3 %', () => {
		// 0.80 × 1.07 = 0.856: only 7 % over, but too lean for boost.
		expect(findingOf(run(7), 'fuel.lean')?.severity).toBe('stop');
	});
	it('common practice: mid to high 12s of a petrol-scale gauge under boost is dangerously lean', () => {
		const shapes: Record<string, Shape> = {
			...pullShapes(),
			'lambda.b1': (t) => (t > 11 && t < 16 ? 12.6 / 14.7 : 1)
		};
		delete shapes['lambda.target'];
		expect(findingOf(reportOf(drive(shapes), vehicleWith()), 'fuel.lean')?.severity).toBe('stop');
	});
	it('common practice: high 11s are good', () => {
		const shapes: Record<string, Shape> = {
			...pullShapes(),
			'lambda.b1': (t) => (t > 10 && t < 16.2 ? 11.8 / 14.7 : 1)
		};
		delete shapes['lambda.target'];
		expect(findingOf(reportOf(drive(shapes), vehicleWith()), 'fuel.lean')).toBeUndefined();
	});
	it('0.12 s are too short to count', () => {
		expect(findingOf(run(9, 13, 13.12), 'fuel.lean')).toBeUndefined();
	});
	it('0.4 s are long enough', () => {
		expect(findingOf(run(9, 13, 13.4), 'fuel.lean')?.severity).toBe('stop');
	});
	it('the first 0.4 s under load are only transient', () => {
		const f = findingOf(run(12, 10, 10.35), 'fuel.lean');
		expect(f?.severity).toBe('watch');
		expect(f?.title).toContain('Transient lean');
	});
	it('a misfire sends unburnt air past the sensor: never lean', () => {
		const shapes = {
			...pullShapes(),
			'lambda.b1': off(15, 12, 13),
			'misfire.cyl2': (t: number) => Math.max(0, Math.min(13, Math.floor((t - 11.9) * 10)))
		};
		expect(findingOf(reportOf(drive(shapes), vehicleWith()), 'fuel.lean')).toBeUndefined();
	});
	it('a fuel cut is no lean mixture', () => {
		const shapes = pullShapes();
		const cut = (t: number) => t >= 13 && t < 13.6;
		const report = reportOf(
			drive({
				...shapes,
				'pw.b1': (t) => (cut(t) ? 0 : shapes['pw.b1']!(t)),
				'lambda.b1': (t) => (cut(t - 0.1) ? 1.6 : shapes['lambda.target']!(t - 0.1))
			}),
			vehicleWith()
		);
		expect(findingOf(report, 'fuel.lean')).toBeUndefined();
	});
	it('is not checked without a lambda, and without loaded driving', () => {
		const { ['lambda.b1']: _l, ...rest } = pullShapes();
		expect(outcomeOf(reportOf(drive(rest), vehicleWith()), 'fuel.lean')).toMatchObject({
			outcome: 'not-checked',
			missing: 'lambda'
		});
		const calm = reportOf(drive(pullShapes(1000)), vehicleWith());
		expect(outcomeOf(calm, 'fuel.lean')).toMatchObject({ outcome: 'not-checked', missing: 'loaded driving' });
	});
	it('both banks lean by the same is one finding, one bank is named', () => {
		const lean = off(6, 12, 15);
		const both = reportOf(drive({ ...pullShapes(), 'lambda.b1': lean, 'lambda.b2': lean }), twoBanks());
		expect(both.findings.filter((f) => f.code === 'fuel.lean')).toHaveLength(1);
		expect(findingOf(both, 'fuel.lean')?.bank).toBeUndefined();
	});
	it.each([10, 25, 50, 100])('finds the same at %i Hz', (rate) => {
		const report = reportOf(drive({ ...pullShapes(), 'lambda.b1': off(6, 12, 15) }, 30, rate), vehicleWith());
		expect(findingOf(report, 'fuel.lean')?.value).toBeCloseTo(6, 1);
	});
	it('takes limits of the vehicle over the defaults', () => {
		const report = reportOf(
			drive({ ...pullShapes(), 'lambda.b1': off(3.5, 12, 15) }),
			vehicleWith({}, { limits: { leanWatchPct: 4 } })
		);
		expect(findingOf(report, 'fuel.lean')).toBeUndefined();
	});
});

it('a lean bank beside a cylinder that may have died is called what it may be', () => {
	const titleOf = (dead: boolean) =>
		wordsOf({
			code: 'fuel.lean',
			severity: 'stop',
			bank: 1,
			channels: [],
			facts: { offPct: { value: 33, unit: '%' }, ...(dead ? { dead: { value: true } } : {}) }
		}).title;
	expect(titleOf(true)).toBe('Bank 1 lean, or a dead cylinder');
	expect(titleOf(false)).toBe('Bank 1 lean under load');
});
