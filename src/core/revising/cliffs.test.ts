/** Neighbours that became too steep, and those that were. */
import { calibrationWith } from '../testing/hand-made.ts';
import { describe, expect, it } from 'vitest';
import { cliffsOf } from './cliffs.ts';
import { withChanges } from './changes.ts';

const map = (id: string, v: number) => ({
	id,
	kind: 'map',
	x: { channel: 'rpm', points: [2000, 4000, 6000] },
	y: { channel: 'map', points: [60, 100, 160] },
	values: [60, 100, 160].map(() => [v, v, v])
});
const parent = calibrationWith([map('fuel.table', 80), map('spark.table', 20), map('lambda.target', 0.85)]);

describe('cliffs', () => {
	const at = (item: string, to: number) =>
		cliffsOf(parent, withChanges(parent, [{ item, cells: [{ x: 4000, y: 100, to }] }]));
	it('just under and just over their tolerance', () => {
		expect(at('fuel.table', 80 * 1.199)).toEqual([]);
		expect(at('fuel.table', 80 * 1.21)[0]!.why).toContain('21.0 %');
		expect(at('spark.table', 14)).toEqual([]);
		expect(at('spark.table', 13.9)).toHaveLength(1);
		expect(at('lambda.target', 0.94)).toHaveLength(1);
	});
	it('a table that is steep by nature is no cliff for a rounding more, but for a real one', () => {
		const steep = withChanges(parent, [{ item: 'fuel.table', cells: [{ x: 4000, y: 100, to: 124 }] }]);
		const to = (v: number) =>
			cliffsOf(steep, withChanges(steep, [{ item: 'fuel.table', cells: [{ x: 4000, y: 100, to: v }] }]));
		// 55 % before; 55.1 % and 58 % after, the tolerance is 20 %.
		expect(to(124.08)).toEqual([]);
		expect(to(126.4)).toHaveLength(1);
	});
	it('that were there before are nobody’s', () => {
		const steep = withChanges(parent, [{ item: 'spark.table', cells: [{ x: 4000, y: 100, to: 30 }] }]);
		expect(
			cliffsOf(steep, withChanges(steep, [{ item: 'spark.table', cells: [{ x: 4000, y: 100, to: 29 }] }]))
		).toEqual([]);
	});
});
