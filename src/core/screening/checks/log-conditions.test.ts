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

const drive = (more: Record<string, Shape> = {}, seconds = 40, rate = 20) =>
	handMade(seconds, rate, { ...pullShapes(), ...more });
const report = (log: ReturnType<typeof handMade>, vehicle = vehicleWith()) => reportOf(log, vehicle);

describe('log.conditions', () => {
	it.each([
		[69, 'found'],
		[71, 'pass']
	])('coolant at %i °C when the pull begins: %s', (c, outcome) => {
		expect(outcomeOf(report(drive({ ect: () => c })), 'log.conditions').outcome).toBe(outcome);
	});
	it('intake air over ambient by more than 20 °C is heat soak; without an ambient the coolest of the log stands in', () => {
		expect(
			findingOf(report(drive({ iat: () => 43, ambientTemp: () => 20 })), 'log.conditions')?.title
		).toContain('heat-soaked');
		expect(
			findingOf(report(drive({ iat: () => 39, ambientTemp: () => 20 })), 'log.conditions')
		).toBeUndefined();
		expect(findingOf(report(drive({ iat: (t) => (t < 5 ? 20 : 45) })), 'log.conditions')?.severity).toBe(
			'watch'
		);
	});
	it('is not checked without a pull', () => {
		expect(outcomeOf(report(handMade(30, 20, pullShapes(1000))), 'log.conditions')).toMatchObject({
			outcome: 'not-checked',
			missing: 'a full-throttle pull'
		});
	});
});
