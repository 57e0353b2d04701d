import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mergeParts } from './merge.ts';

const same = (a: number, b: number) => a === b;
const map = (o: Record<string, number>) => new Map(Object.entries(o));
const parts = fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd'), fc.integer({ min: 0, max: 3 })).map(map);

describe('two windows on one draft', () => {
	it('what each touched is kept', () => {
		const m = mergeParts(map({ a: 1, b: 1 }), map({ a: 2, b: 1 }), map({ a: 1, b: 3, c: 4 }), same);
		expect(Object.fromEntries(m.parts)).toEqual({ a: 2, b: 3, c: 4 });
		expect(m.conflicts).toEqual([]);
	});
	it('what both changed is shown, also where one took it away', () => {
		const m = mergeParts(map({ a: 1, b: 1 }), map({ a: 2 }), map({ a: 3, b: 5 }), same);
		expect(m.conflicts).toEqual([
			{ key: 'a', mine: 2, theirs: 3 },
			{ key: 'b', mine: undefined, theirs: 5 }
		]);
	});
	it('no change of either side is lost without being told', () => {
		fc.assert(
			fc.property(parts, parts, parts, (base, mine, theirs) => {
				const { parts: out, conflicts } = mergeParts(base, mine, theirs, same);
				const told = new Set(conflicts.map((c) => c.key));
				for (const key of ['a', 'b', 'c', 'd']) {
					if (told.has(key)) continue;
					if (mine.get(key) !== base.get(key)) expect(out.get(key)).toBe(mine.get(key));
					if (theirs.get(key) !== base.get(key)) expect(out.get(key)).toBe(theirs.get(key));
				}
			})
		);
	});
	it('with nothing done meanwhile it is what was done here', () => {
		fc.assert(
			fc.property(parts, parts, (base, mine) => {
				const m = mergeParts(base, mine, base, same);
				expect(m.conflicts).toEqual([]);
				expect(new Map(m.parts)).toEqual(mine);
			})
		);
	});
});
