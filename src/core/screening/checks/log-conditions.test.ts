import { drive, reportOn } from '../../testing/check-cases.ts';
import { describe, expect, it } from 'vitest';
import { findingOf, handMade, outcomeOf, pullShapes } from '../../testing/hand-made.ts';

describe('log.conditions', () => {
	it.each([
		[69, 'found'],
		[71, 'pass']
	])('coolant at %i °C when the pull begins: %s', (c, outcome) => {
		expect(outcomeOf(reportOn(drive({ ect: () => c })), 'log.conditions').outcome).toBe(outcome);
	});
	it('intake air over ambient by more than 20 °C is heat soak; without an ambient the coolest of the log stands in', () => {
		expect(
			findingOf(reportOn(drive({ iat: () => 43, ambientTemp: () => 20 })), 'log.conditions')?.title
		).toContain('heat-soaked');
		expect(
			findingOf(reportOn(drive({ iat: () => 39, ambientTemp: () => 20 })), 'log.conditions')
		).toBeUndefined();
		expect(findingOf(reportOn(drive({ iat: (t) => (t < 5 ? 20 : 45) })), 'log.conditions')?.severity).toBe(
			'watch'
		);
	});
	it('is not checked without a pull', () => {
		expect(outcomeOf(reportOn(handMade(30, 20, pullShapes(1000))), 'log.conditions')).toMatchObject({
			outcome: 'not-checked',
			missing: 'a full-throttle pull'
		});
	});
});
