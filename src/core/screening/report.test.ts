import { describe, expect, it } from 'vitest';
import { CODES } from './codes.ts';
import { handMade, outcomeOf, pullShapes, reportOf, vehicleWith, type Shape } from '../testing/hand-made.ts';

const RATE = 20;
const drive = (shapes: Record<string, Shape>, seconds = 30, rate = RATE) => handMade(seconds, rate, shapes);
/** The mixture is `percent` off target between two moments (as the sensor shows it, its lag later). */
const off = (percent: number, from: number, to: number): Shape => {
	const target = pullShapes()['lambda.target']!;
	return (t) => target(t - 0.1) * (t >= from + 0.1 && t < to + 0.1 ? 1 + percent / 100 : 1);
};

describe('the report', () => {
	it('lists every code once, and says of those without a check that they were not made', () => {
		const report = reportOf(drive(pullShapes()), vehicleWith());
		const codes = report.checks.map((c) => c.code);
		expect(new Set(codes).size).toBe(codes.length);
		expect(codes).toEqual(CODES);
		expect(outcomeOf(report, 'boost.over')).toMatchObject({ outcome: 'not-checked' });
	});
	it('has the worst severity as its verdict and names the pull', () => {
		const report = reportOf(drive({ ...pullShapes(), 'lambda.b1': off(9, 12, 15) }), vehicleWith());
		expect(report.verdict).toBe('stop');
		expect(report.segments.filter((s) => s.kind === 'pull')).toHaveLength(1);
	});
});
