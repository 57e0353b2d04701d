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
	it('intake air over ambient by more than 20 °C is heat soak; a cold start tells the ambient, a warm one does not', () => {
		expect(
			findingOf(reportOn(drive({ iat: () => 43, ambientTemp: () => 20 })), 'log.conditions')?.title
		).toContain('heat-soaked');
		expect(
			findingOf(reportOn(drive({ iat: () => 39, ambientTemp: () => 20 })), 'log.conditions')
		).toBeUndefined();
		const soaked = (coolantC: number) =>
			reportOn(drive({ iat: (t) => (t < 5 ? 20 : 45), ect: (t) => (t < 5 ? coolantC : 85) }));
		expect(findingOf(soaked(22), 'log.conditions')?.summary).toContain('by the cold start');
		expect(outcomeOf(soaked(60), 'log.conditions')).toMatchObject({
			outcome: 'not-checked',
			missing: 'ambientTemp'
		});
	});
	it('is not checked without a pull', () => {
		expect(outcomeOf(reportOn(handMade(30, 20, pullShapes(1000))), 'log.conditions')).toMatchObject({
			outcome: 'not-checked',
			missing: 'a full-throttle pull'
		});
	});
});
