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
			tps: () => 18,
			map: () => 45,
			rpm: () => 2500
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
