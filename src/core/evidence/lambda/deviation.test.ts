import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	inPull,
	outcomeOf,
	pulled,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';

const car = vehicleWith();
/** Spool-up: the target goes from 1 to 0.8 between 11 and 11.8 s. */
const spool = (t: number) => (t < 11 ? 0.95 : t < 11.8 ? 0.95 - ((t - 11) / 0.8) * 0.15 : 0.8);
const goal: Shape = (t) => (inPull(t) ? spool(t) : 1);
/** A sensor whose lag (0.1 s at this flow) the log knows only to 0.15 s: it answers `late` seconds later than it is taken to. */
const log = (late: number, lean = 1, hz = 20) =>
	handMade(40, hz, {
		...pullShapes(),
		'lambda.target': goal,
		'lambda.b1': (t) => goal(t - 0.15 - late) * (inPull(t) ? lean : 1)
	});

describe('a target that moves faster than the lag is known', () => {
	it.each([5, 10, 20, 40])('is no lean mixture at fix when 0.1 s of lag explains it, at %d Hz', (hz) => {
		const f = findingOf(reportOf(log(0.1, 1, hz), car), 'fuel.lean');
		expect([undefined, 'watch']).toContain(f?.severity);
	});
	it('what no lag in doubt explains is found', () => {
		expect(findingOf(reportOf(log(0, 1.1), car), 'fuel.lean')?.severity).toBe('stop');
	});
	it('and so it is where the target keeps still', () => {
		const steady = handMade(40, 20, { ...pullShapes(), 'lambda.b1': pulled(0.8 * 1.06, 1) });
		expect(findingOf(reportOf(steady, car), 'fuel.lean')?.severity).toBe('fix');
	});
});

describe('no target known', () => {
	const without = (lambda: Shape, more: Record<string, Shape> = {}) => {
		const { 'lambda.target': _, ...rest } = pullShapes();
		return reportOf(handMade(40, 20, { ...rest, 'lambda.b1': lambda, ...more }), car);
	};
	const half = { tps: pulled(60, 18), pedal: pulled(60, 10) };
	it('lean under boost at part throttle is a stop on its own, and no text holds NaN', () => {
		const report = without(pulled(0.95, 1), half);
		const f = findingOf(report, 'fuel.lean')!;
		expect(f.severity).toBe('stop');
		expect(f.summary).toContain('no target is known');
		expect(outcomeOf(report, 'fuel.rich').outcome).toBe('not-checked');
	});
	it('a rich one at part throttle is not judged by a target that nobody knows', () => {
		const report = without(pulled(0.78, 1), half);
		expect(findingOf(report, 'fuel.lean')).toBeUndefined();
		expect(outcomeOf(report, 'fuel.lean').reason).toContain('No target is known');
	});
});
