import { calibrationWith } from '../testing/hand-made.ts';
import { describe, expect, it } from 'vitest';
import { compare } from '../calibration/compare.ts';
import type { MapItem } from '../calibration/document.ts';
import { findItem } from '../calibration/lookup.ts';
import { sameAxis } from '../calibration/resample.ts';
import { movedChanges, settingValue, takenOver, withEdits } from './edits.ts';
import type { AxesEdit } from './edit-schema.ts';
import type { DraftChange } from './edit-schema.ts';
import { grouped, withChanges } from './changes.ts';

const parent = calibrationWith([
	{
		id: 'fuel.table',
		kind: 'map',
		unit: '%',
		x: { channel: 'rpm', points: [1000, 2000, 3000] },
		y: { channel: 'map', points: [50, 100] },
		values: [
			[30, 40, 50],
			[60, 80, 100]
		]
	},
	{ id: 'fuel.trim', kind: 'scalar', unit: '%', value: 0 },
	{ id: 'knock.enabled', kind: 'setting', value: true },
	{ id: 'trigger.offset', kind: 'setting', value: -12, min: -360, max: 360 },
	{ id: 'sensor.map', kind: 'setting', value: '0.4 V = 20 kPa' }
]);
const table = parent.items[0] as MapItem;
const change = (x: number, y: number, from: number, to: number, reason = 'lean there'): DraftChange => ({
	item: 'fuel.table',
	x,
	y,
	from,
	to,
	basis: 'measured',
	samples: 50,
	se: 0.2,
	reason,
	findings: ['fuel.lean']
});
const axes = (points: number[], more: Partial<AxesEdit> = {}): AxesEdit => ({
	kind: 'axes',
	item: 'fuel.table',
	x: { ...sameAxis(table.x), points },
	y: sameAxis(table.y),
	reason: 'finer at the top',
	...more
});

describe('edits of a draft', () => {
	it('apply to the parent, which stays as it is', () => {
		const next = withEdits(parent, [
			{ kind: 'setting', item: 'sensor.map', to: '0.5 V = 10 kPa', reason: 'another sensor' },
			axes([1000, 3000])
		]);
		expect((next.items[0] as MapItem).values).toEqual([
			[30, 50],
			[60, 100]
		]);
		expect(next.items[4]).toMatchObject({ value: '0.5 V = 10 kPa' });
		expect(table.x.points).toEqual([1000, 2000, 3000]);
		expect(next.items[1]).toBe(parent.items[1]);
		expect(withEdits(parent, [])).toBe(parent);
	});
	it('a setting keeps its kind of value, and says what it expects', () => {
		const [, , enabled, offset, sensor] = parent.items;
		if (enabled?.kind !== 'setting' || offset?.kind !== 'setting' || sensor?.kind !== 'setting')
			throw new Error();
		expect(settingValue(enabled, 'false')).toBe(false);
		expect(() => settingValue(enabled, 'perhaps')).toThrow('write true or false');
		expect(settingValue(offset, '-10,5')).toBe(-10.5);
		expect(() => settingValue(offset, 'ten')).toThrow('is a number');
		expect(() => settingValue(offset, '')).toThrow('is a number');
		expect(() => settingValue(offset, 400)).toThrow('at most 360');
		expect(settingValue(sensor, 5)).toBe('5');
	});
	it('refuses what does not fit', () => {
		expect(() => withEdits(parent, [{ kind: 'setting', item: 'none', to: 1, reason: '' }])).toThrow(
			'no item is called'
		);
		expect(() => withEdits(parent, [{ kind: 'setting', item: 'fuel.table', to: 1, reason: '' }])).toThrow(
			'no setting'
		);
		expect(() => withEdits(parent, [axes([1000, 2000], { item: 'fuel.trim' })])).toThrow('has no axes');
	});
});

describe('cell changes on moved axes', () => {
	const made = [change(2000, 100, 80, 88)];
	it('what was made at a point that stays, stays; in between the made surface is kept', () => {
		const after = axes([1000, 1500, 2000, 3000]);
		const moved = movedChanges(table, null, after, made);
		expect(moved).toContainEqual(made[0]);
		// Halfway from 60 to 88 instead of halfway from 60 to 80.
		expect(moved).toContainEqual({
			...change(1500, 100, 70, 74),
			basis: 'carried',
			samples: 0,
			se: null
		});
		expect(moved).toHaveLength(2);
		const next = withChanges(withEdits(parent, [after]), grouped(moved));
		expect((next.items[0] as MapItem).values[1]).toEqual([60, 74, 88, 100]);
	});
	it('and back again on the axes of the parent', () => {
		const after = axes([1000, 1500, 2000, 3000]);
		expect(movedChanges(table, after, null, movedChanges(table, null, after, made))).toEqual([
			{ ...made[0], basis: 'measured' }
		]);
	});
	it('from pressure to ratio and back', () => {
		const ratio = axes([1000, 2000, 3000], {
			y: { channel: 'pressureRatio', points: [0.5, 1], scale: 100 }
		});
		const there = movedChanges(table, null, ratio, made);
		// What was measured is still measured: only the axis reads otherwise.
		expect(there).toMatchObject([{ x: 2000, y: 1, from: 80, to: 88, basis: 'measured', samples: 50 }]);
		expect(movedChanges(table, ratio, null, there)).toMatchObject([{ x: 2000, y: 100, from: 80, to: 88 }]);
	});
	it('nothing made, nothing moved', () => {
		expect(movedChanges(table, null, axes([1000, 1500, 3000]), [])).toEqual([]);
	});
});

describe('a calibration that was worked on elsewhere', () => {
	const other = withChanges(
		withEdits(parent, [
			{ kind: 'setting', item: 'knock.enabled', to: false, reason: '' },
			axes([1000, 2500, 3000])
		]),
		[
			{ item: 'fuel.table', cells: [{ x: 2500, y: 50, to: 47 }] },
			{ item: 'fuel.trim', cells: [{ x: 0, y: 0, to: 2 }] }
		]
	);
	it('becomes edits and changes that make it out of the parent', () => {
		const taken = takenOver(parent, other, 'from the bench');
		expect(taken.left).toEqual([]);
		expect(taken.edits.map((e) => [e.kind, e.item])).toEqual([
			['axes', 'fuel.table'],
			['setting', 'knock.enabled']
		]);
		expect(taken.changes).toMatchObject([
			{ item: 'fuel.table', x: 2500, y: 50, from: 45, to: 47, basis: 'hand', reason: 'from the bench' },
			{ item: 'fuel.trim', from: 0, to: 2 }
		]);
		expect(withChanges(withEdits(parent, taken.edits), grouped(taken.changes))).toEqual(other);
	});
	it('in other units is the same: 29 psi are 200 kPa, AFR 12.5 is λ 0.85; equal values are no change', () => {
		const items = (pounds: boolean) => {
			const kpa = (v: number) => (pounds ? Number((v / 6.894757).toFixed(2)) : v);
			const x = { channel: 'rpm', points: [1000, 3000] };
			const y = { channel: 'map', unit: pounds ? 'psi' : 'kPa', points: [100, 200].map(kpa) };
			const target = [
				[0.95, 0.9],
				[0.85, 0.82]
			];
			return calibrationWith([
				{
					id: 'boost.target',
					kind: 'curve',
					unit: pounds ? 'psi' : 'kPa',
					decimals: pounds ? 2 : 0,
					x,
					values: [150, 180].map(kpa)
				},
				{
					id: 'lambda.target',
					kind: 'map',
					unit: pounds ? 'AFR' : 'λ',
					decimals: 2,
					x,
					y,
					values: target.map((r) => r.map((v) => (pounds ? Number((v * 14.7).toFixed(2)) : v)))
				}
			]);
		};
		expect(takenOver(items(false), items(true), 'r')).toEqual({ edits: [], changes: [], left: [] });
		const more = items(true);
		const boost = more.items[0] as { values: number[] };
		boost.values[1] = 29;
		expect(takenOver(items(false), more, 'r').changes).toMatchObject([
			{ item: 'boost.target', x: 3000, from: 180, to: 200 }
		]);
		const richer = items(true);
		(richer.items[1] as { values: number[][] }).values[0]![1] = 12.5;
		expect(takenOver(items(false), richer, 'r').changes).toMatchObject([
			{ item: 'lambda.target', from: 0.9, to: 0.85 }
		]);
		const odd = items(false);
		(odd.items[0] as { unit?: string }).unit = '%';
		expect(takenOver(items(false), odd, 'r').left[0]).toContain('is in % there and in kPa here');
	});
	it('the same calibration is no change', () => {
		expect(takenOver(parent, parent, 'r')).toEqual({ edits: [], changes: [], left: [] });
	});
	it('says what it leaves, and refuses another fuel model', () => {
		const odd = {
			...parent,
			items: [{ id: 'new.thing', kind: 'scalar' as const, value: 1 }, ...parent.items.slice(1)]
		};
		const taken = takenOver(parent, odd, 'r');
		expect(taken.left).toEqual(['Fuel table is missing in the file and stays as it is']);
		// What is new in it is added.
		expect(taken.edits).toMatchObject([{ kind: 'added', item: 'new.thing', reason: 'r' }]);
		expect(findItem(withEdits(parent, taken.edits), 'new.thing')).toMatchObject({ value: 1 });
		expect(compare(parent, withEdits(parent, taken.edits)).changes).toMatchObject([
			{ item: 'new.thing', only: 'b', class: 'unknown' }
		]);
		expect(() => withEdits(odd, taken.edits)).toThrow('"new.thing" is there already');
		expect(() => takenOver(parent, { ...parent, fuelModel: 'maf' }, 'r')).toThrow('its fuel model is maf');
	});
});
