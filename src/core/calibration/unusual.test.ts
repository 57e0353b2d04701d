import { calibrationWith } from '../testing/hand-made.ts';
import { expect, it } from 'vitest';
import { type Item } from './document.ts';
import { ITEMS } from './items.ts';
import type { ItemKind } from './item-kind.ts';
import { unusual, unusualIn } from './unusual.ts';

const spark = (values: number[][], more: object = {}): Item =>
	({
		id: 'spark.table',
		kind: 'map',
		unit: '°',
		x: { channel: 'rpm', points: [1000, 2000] },
		y: { channel: 'map', points: [50, 100] },
		values,
		...more
	}) as Item;
const scalar = (id: string, unit: string, value = 1): Item => ({ id, kind: 'scalar', unit, value }) as Item;
const calibration = (...items: Item[]) => calibrationWith(items);

it('a slip of the keyboard is outside of what timing keeps; what an engine runs on is not', () => {
	expect(unusual(spark([]), 999)).toBe('outside of -30 to 60 °, which Timing usually keeps');
	expect(unusual(spark([]), -10)).toBeNull();
	expect(unusual(spark([]), 45)).toBeNull();
});

it('is told in the unit of the document', () => {
	const target = scalar('lambda.target', 'AFR');
	expect(unusual(target, 12.5)).toBeNull();
	expect(unusual(target, 0.85)).toMatch(/^outside of 8 to 19 AFR/);
	// 20 psi over the barometer are 238 kPa.
	const gauge = scalar('boost.target', 'psi gauge');
	expect(unusual(gauge, 20)).toBeNull();
	expect(unusual(gauge, 180)).not.toBeNull();
});

it('says nothing where the unit measures something else, or nobody knows the item', () => {
	expect(unusual(scalar('fuel.table', 'ms'), 999)).toBeNull();
	expect(unusual(scalar('user.thing', ''), 1e9)).toBeNull();
});

it("the document's own limits count for every item", () => {
	const item = { ...scalar('user.thing', ''), min: 0, max: 5 } as Item;
	expect(unusual(item, 6)).toBe('outside of 0 to 5, which its definition allows');
	expect(unusual(item, 5)).toBeNull();
});

it('a draft names what it changed, not what was there before', () => {
	const before = calibration(
		spark([
			[10, 90],
			[12, 14]
		])
	);
	const after = calibration(
		spark([
			[999, 90],
			[12, 140]
		])
	);
	expect(unusualIn(before, before)).toEqual([]);
	expect(unusualIn(before, after)).toEqual([
		{
			item: 'spark.table',
			title: 'Timing',
			count: 2,
			why: '999 and 1 more: outside of -30 to 60 °, which Timing usually keeps'
		}
	]);
});

it('every range is one, and holds its own cliff several times', () => {
	for (const { id, usual, cliff } of ITEMS as readonly ItemKind[]) {
		if (!usual) continue;
		expect(usual[1], id).toBeGreaterThan(usual[0]);
		if (cliff && !cliff.relative) expect(usual[1] - usual[0], id).toBeGreaterThan(4 * cliff.by);
	}
});
