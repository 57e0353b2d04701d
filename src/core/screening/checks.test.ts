import { directDutyPct, portDutyPct } from '../evidence/duty.ts';
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
} from '../testing/hand-made.ts';

const RATE = 20;
const drive = (shapes: Record<string, Shape>, seconds = 30, rate = RATE) => handMade(seconds, rate, shapes);
/** The mixture is `percent` off target between two moments (as the sensor shows it, its lag later). */
const off = (percent: number, from: number, to: number): Shape => {
	const target = pullShapes()['lambda.target']!;
	return (t) => target(t - 0.1) * (t >= from + 0.1 && t < to + 0.1 ? 1 + percent / 100 : 1);
};

describe('log.channels', () => {
	it('passes when engine speed, load, lambda, throttle, knock and coolant are there', () => {
		expect(outcomeOf(reportOf(drive(pullShapes()), vehicleWith()), 'log.channels').outcome).toBe('pass');
	});
	it('is to fix without a lambda, to watch without coolant, and is one finding for all', () => {
		const { ['lambda.b1']: _l, knockRetard: _k, ...rest } = pullShapes();
		const without = reportOf(drive(rest), vehicleWith());
		expect(without.findings.filter((f) => f.code === 'log.channels')).toHaveLength(1);
		expect(findingOf(without, 'log.channels')).toMatchObject({ severity: 'fix', value: 2 });
		const { ect: _e, ...cold } = pullShapes();
		expect(findingOf(reportOf(drive(cold), vehicleWith()), 'log.channels')?.severity).toBe('watch');
	});
});

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

describe('bank.mismatch', () => {
	const target = pullShapes()['lambda.target']!;
	const banks = (cruisePct: number, boostPct: number, more: Record<string, Shape> = {}, seconds = 120) =>
		drive(
			{
				...pullShapes(60, 8),
				'lambda.target': pullShapes(60, 8)['lambda.target']!,
				'lambda.b1': (t) => pullShapes(60, 8)['lambda.target']!(t - 0.1),
				'lambda.b2': (t) =>
					pullShapes(60, 8)['lambda.target']!(t - 0.1) *
					(1 + (t >= 60 && t < 68.1 ? boostPct : cruisePct) / 100),
				...more
			},
			seconds
		);
	it('common practice: a sound engine is under 1 % nearly everywhere', () => {
		expect(outcomeOf(reportOf(banks(0.6, 0.8), twoBanks()), 'bank.mismatch').outcome).toBe('pass');
	});
	it.each([
		[1.8, undefined],
		[2.4, 'watch'],
		[3.8, 'watch'],
		[4.4, 'fix'],
		[8.6, 'stop']
	])('%f %% everywhere is %s', (percent, severity) => {
		expect(findingOf(reportOf(banks(percent, percent), twoBanks()), 'bank.mismatch')?.severity).toBe(
			severity
		);
	});
	it('common practice: 1 % over cruise with 9 % over boost is a stop and not a mean', () => {
		const f = findingOf(reportOf(banks(1, 9), twoBanks()), 'bank.mismatch')!;
		expect(f).toMatchObject({ severity: 'stop', bank: 2 });
		expect(f.value).toBeCloseTo(9, 0);
		expect(f.next.join()).toContain('swap the injectors');
	});
	it('is found in the trims when they hide it from lambda', () => {
		const hidden = banks(0, 0, {
			'stft.b1': () => 0,
			'stft.b2': () => 6,
			'ltft.b1': () => 0,
			'ltft.b2': () => 0
		});
		const f = findingOf(reportOf(hidden, twoBanks()), 'bank.mismatch')!;
		expect(f).toMatchObject({ severity: 'fix', bank: 2 });
		expect(f.value).toBeCloseTo(6, 1);
	});
	it('names bank 1 with a negative value when that is the leaner', () => {
		const swapped = banks(0, 0, {
			'lambda.b1': (t) => target(t) * 1.06,
			'lambda.b2': target,
			'lambda.target': target,
			...{ tps: () => 18, map: () => 45, rpm: () => 2500 }
		});
		const f = findingOf(reportOf(swapped, twoBanks()), 'bank.mismatch')!;
		expect(f.bank).toBe(1);
		expect(f.value).toBeLessThan(-5);
	});
	it('an engine with one bank passes; two banks with one sensor are not checked', () => {
		expect(outcomeOf(reportOf(drive(pullShapes()), vehicleWith()), 'bank.mismatch').outcome).toBe('pass');
		expect(outcomeOf(reportOf(drive(pullShapes()), twoBanks()), 'bank.mismatch')).toMatchObject({
			outcome: 'not-checked',
			missing: 'lambda.b2'
		});
	});
	it('19 samples in every cell are too few', () => {
		expect(outcomeOf(reportOf(banks(9, 9, {}, 0.95), twoBanks()), 'bank.mismatch').outcome).toBe(
			'not-checked'
		);
	});
	it('a lean bank that the difference explains steps back to a note', () => {
		const report = reportOf(banks(1, 9), twoBanks());
		expect(report.findings.filter((f) => f.severity === 'stop').map((f) => f.code)).toEqual([
			'bank.mismatch'
		]);
		expect(findingOf(report, 'fuel.lean')).toMatchObject({ severity: 'note', bank: 2 });
	});
});

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

describe('inj.duty', () => {
	it('common practice: duty = pulse width × rpm / 1200', () => {
		expect(portDutyPct(15.5, 6500, 1)).toBeCloseTo(83.96, 2);
		expect(portDutyPct(8, 6000, 2)).toBeCloseTo(80, 9);
		// 250° at 6000 rpm are 6.944 ms.
		expect(directDutyPct(5.5556, 6000, 250)).toBeCloseTo(80, 2);
	});
	/** A pulse that reaches the wanted duty at the top of the pull, 6500 rpm. */
	const with_ = (percent: number, vehicle = vehicleWith(), more: Record<string, Shape> = {}) =>
		reportOf(
			drive(
				{ ...pullShapes(), 'pw.b1': (t) => (t >= 10 && t < 16 ? (percent * 1200) / 6500 : 3), ...more },
				30,
				100
			),
			vehicle
		);
	it.each([
		[79, undefined],
		[81, 'watch'],
		[84, 'watch'],
		[86.5, 'fix'],
		[97, 'stop']
	])('%f %% is %s', (percent, severity) => {
		expect(findingOf(with_(percent), 'inj.duty')?.severity).toBe(severity);
	});
	it('a single wild sample is none', () => {
		const shapes = { ...pullShapes(), 'pw.b1': (t: number) => (Math.abs(t - 15) < 0.004 ? 40 : 6) };
		expect(findingOf(reportOf(drive(shapes, 30, 100), vehicleWith()), 'inj.duty')).toBeUndefined();
	});
	it('direct injection without a stated window is not checked', () => {
		expect(outcomeOf(with_(50, vehicleWith({ injection: 'direct' })), 'inj.duty')).toMatchObject({
			outcome: 'not-checked',
			missing: 'vehicle: injectors.windowDeg'
		});
	});
	it('says so when the logged duty is another one', () => {
		const f = findingOf(
			with_(60, vehicleWith(), { injDuty: (t) => (t >= 10 && t < 16 ? 30 : 8) }),
			'inj.duty'
		);
		expect(f).toMatchObject({ severity: 'note' });
		expect(f?.summary).toContain('check injections per cycle');
	});
	it('is not checked without pulse width or duty', () => {
		const { ['pw.b1']: _p, ...rest } = pullShapes();
		expect(outcomeOf(reportOf(drive(rest), vehicleWith()), 'inj.duty')).toMatchObject({
			outcome: 'not-checked'
		});
	});
});

describe('the report', () => {
	it('lists every code once, and says of those without a check that they were not made', () => {
		const report = reportOf(drive(pullShapes()), vehicleWith());
		const codes = report.checks.map((c) => c.code);
		expect(new Set(codes).size).toBe(codes.length);
		expect(codes).toHaveLength(57);
		expect(outcomeOf(report, 'boost.over')).toMatchObject({ outcome: 'not-checked' });
	});
	it('has the worst severity as its verdict and names the pull', () => {
		const report = reportOf(drive({ ...pullShapes(), 'lambda.b1': off(9, 12, 15) }), vehicleWith());
		expect(report.verdict).toBe('stop');
		expect(report.segments.filter((s) => s.kind === 'pull')).toHaveLength(1);
	});
});
