import { describe, expect, it } from 'vitest';
import { LIMITS } from './profile.ts';
import { limitRows } from './rows.ts';

describe('limits in rows', () => {
	const names = limitRows().flatMap((g) => g.rows.flatMap((r) => r.limits.map((l) => l.name)));
	it('has every limit once, all of them in a place of their own', () => {
		expect([...names].sort()).toEqual(Object.keys(LIMITS).sort());
		expect(limitRows().some((g) => g.title === 'Others')).toBe(false);
	});
	it('puts levels of one unit into one row, the milder first', () => {
		for (const { limits, what } of limitRows().flatMap((g) => g.rows)) {
			expect(new Set(limits.map((l) => LIMITS[l.name].unit)).size, what).toBe(1);
			// A level is told by the meaning of its limit as well.
			for (const { name, level } of limits) if (level) expect(LIMITS[name].meaning, name).toContain(level);
		}
	});
});
