import { describe, expect, it } from 'vitest';
import { DEFAULT_WAYS, SETTLED, WAYS, waysSchema } from './ways.ts';

describe('ways of working', () => {
	it('each have every school of theirs, with why', () => {
		expect(WAYS.map((w) => w.id).sort()).toEqual(Object.keys(waysSchema.shape).sort());
		for (const { id, schools } of WAYS) {
			const values = schools.map((s) => s.value);
			expect(values.every((v) => waysSchema.shape[id].safeParse(v).success)).toBe(true);
			expect(values).toContain(DEFAULT_WAYS[id]);
			for (const s of schools) expect(s.why.length).toBeGreaterThan(20);
		}
	});
	it('are read where an older choice lacks one', () => {
		expect(waysSchema.parse({ firstDrive: 'full-throttle' })).toEqual({
			...DEFAULT_WAYS,
			firstDrive: 'full-throttle'
		});
	});
	it('name what is no choice, with its reason', () => {
		for (const s of SETTLED) for (const text of Object.values(s)) expect(text.length).toBeGreaterThan(4);
	});
});
