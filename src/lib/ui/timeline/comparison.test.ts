import { describe, expect, it } from 'vitest';
import { comparisonOf, isComparable } from './comparison.ts';

const log = (id: number, state = 'clear') => ({ kind: 'log', id, state }) as const;
const rev = (id: number, state = 'released') => ({ kind: 'revision', id, state }) as const;

describe('two beads', () => {
	it('of one kind are compared, the earlier one first', () => {
		expect(comparisonOf(3, rev(9), rev(4))).toBe('/jobs/3/compare?a=4&b=9');
		expect(comparisonOf(3, log(2), log(5))).toBe('/jobs/3/compare-logs?a=2&b=5');
	});
	it('a log and a revision are a replay, whichever comes first; R0 has none', () => {
		expect(comparisonOf(3, rev(9), log(5))).toBe('/jobs/3/revisions/9/replay?log=5');
		expect(comparisonOf(3, log(5), rev(9))).toBe('/jobs/3/revisions/9/replay?log=5');
		expect(comparisonOf(3, log(5), rev(1, 'baseline'))).toBe('/jobs/3/logs/5');
	});
	it('are logs that were read, and revisions', () => {
		expect([log(1), rev(1), log(1, 'failed'), log(1, 'reading')].map(isComparable)).toEqual([
			true,
			true,
			false,
			false
		]);
	});
});
