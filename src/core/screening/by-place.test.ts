import { describe, expect, it } from 'vitest';
import type { Place } from '../evidence/cells/places.ts';
import { gradePlace, worstPlace } from './by-place.ts';

const LIMITS = { watch: 2, fix: 4, stop: 8 };

describe('severity of a place', () => {
	it.each<[number, number, string | null]>([
		[9, 0.1, 'stop'],
		[9, 1, 'fix'],
		[5, 1, 'watch'],
		[4.5, 2, 'watch'],
		[3, 0.2, 'watch'],
		[3, 1, null],
		[-9, 0.1, 'stop']
	])('%f ± %f: %s', (mean, se, severity) => {
		expect(gradePlace({ mean, se }, LIMITS)?.severity ?? null).toBe(severity);
	});
	it('and the gravest decides, of equals the one that is certainly farthest off', () => {
		const at = (rpm: number, mean: number, se: number): Place => ({
			band: 3,
			rpm: [rpm, rpm + 500],
			mean,
			se,
			samples: 20,
			seconds: 1
		});
		expect(worstPlace([at(2000, 3, 0.1), at(3000, -6, 0.5), at(4000, 9, 4)], LIMITS)).toMatchObject({
			severity: 'fix',
			place: { rpm: [3000, 3500] }
		});
		expect(worstPlace([at(2000, 5, 0.1), at(3000, 5.5, 0.6)], LIMITS)!.place.rpm[0]).toBe(2000);
		expect(worstPlace([at(2000, 1, 0.1)], LIMITS)).toBeNull();
	});
});
