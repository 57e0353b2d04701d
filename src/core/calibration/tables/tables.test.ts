/** From the tuner's own program and back: any table by any layout, and everything that can go wrong on the way. */
import { calibrationWith } from '../../testing/hand-made.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cliffsOf } from '../../revising/cliffs.ts';
import { compare } from '../compare.ts';
import { type Calibration, type MapItem } from '../document.ts';
import { itemFrom, tableIn } from './build.ts';
import { layoutSchema, parseLayout, starterLayout, tableLayoutSchema, type TableLayout } from './layout.ts';
import { asHeld, scalarLine, tableText } from './write.ts';
import { verifyText } from './verify.ts';

const rising = (low: number, high: number, step: number) =>
	fc
		.uniqueArray(fc.integer({ min: low / step, max: high / step }), { minLength: 2, maxLength: 9 })
		.map((a) => a.sort((p, q) => p - q).map((v) => v * step));

interface Made {
	calibration: Calibration;
	layout: TableLayout;
	item: MapItem;
}

/** A table of any size with any values, and a layout of any orientation, unit and decimals. */
const made = fc
	.record({
		x: rising(500, 8000, 100),
		y: rising(20, 260, 5),
		seed: fc.integer({ min: 1, max: 1e6 }),
		decimals: fc.integer({ min: 0, max: 4 }),
		rows: fc.constantFrom('y-up' as const, 'y-down' as const),
		transposed: fc.boolean(),
		axes: fc.constantFrom('with' as const, 'without' as const),
		unit: fc.constantFrom('λ', 'AFR'),
		gauge: fc.boolean()
	})
	.map(({ x, y, seed, decimals, rows, transposed, axes, unit, gauge }): Made => {
		let state = seed;
		const next = () => (state = (state * 48271) % 2147483647) / 2147483647;
		const f = 10 ** decimals;
		const [low, span] = unit === 'AFR' ? [10, 8] : [0.6, 0.7];
		const item: MapItem = {
			id: 'lambda.target',
			kind: 'map',
			unit,
			x: { channel: 'rpm', unit: 'rpm', points: x },
			y: gauge ? { channel: 'boost', unit: 'kPa', points: y } : { channel: 'map', unit: 'kPa', points: y },
			// Every value is one that the layout's decimals can hold.
			values: y.map(() => x.map(() => Math.round((low + span * next()) * f) / f))
		};
		const layout = tableLayoutSchema.parse({
			item: item.id,
			unit,
			decimals,
			rows,
			transposed,
			axes,
			x: item.x,
			y: item.y
		});
		return {
			item,
			layout,
			calibration: calibrationWith([item])
		};
	});

const reading = (l: TableLayout) => ({
	units: l.unit,
	xUnit: l.x.unit,
	yUnit: l.y?.unit,
	decimals: l.decimals,
	rows: l.rows,
	transposed: l.transposed
});
const verify = ({ calibration, layout }: Made, text: string, older: Parameters<typeof verifyText>[4] = []) =>
	verifyText(text, calibration, layout.item, reading(layout), older);

describe('any table by any layout', () => {
	it('comes back as the same table', () => {
		fc.assert(
			fc.property(made, (m) => {
				const text = tableText(m.calibration, m.layout);
				const back = itemFrom(
					tableIn({ body: text }, m.layout.axes === 'without'),
					m.layout,
					m.item
				) as MapItem;
				expect(back.x.points).toEqual(m.item.x.points);
				expect(back.y.points).toEqual(m.item.y.points);
				expect(back.values).toEqual(m.item.values);
			}),
			{ numRuns: 300 }
		);
	});
	it('is verified cell by cell when it is pasted back', () => {
		fc.assert(
			fc.property(made, (m) => {
				const v = verify(m, tableText(m.calibration, m.layout));
				expect(v).toMatchObject({
					match: true,
					verified: m.item.values.flat().length,
					differences: [],
					fits: null
				});
			}),
			{ numRuns: 300 }
		);
	});
	it('any one wrong cell is found, and named', () => {
		fc.assert(
			fc.property(made, fc.nat(), fc.nat(), fc.boolean(), (m, r, c, up) => {
				const wrong = structuredClone(m.item);
				const [k, l] = [r % wrong.values.length, c % wrong.values[0]!.length];
				// One step of the last digit is enough.
				wrong.values[k]![l] = wrong.values[k]![l]! + (up ? 1.2 : -1.2) * 10 ** -m.layout.decimals!;
				const text = tableText({ ...m.calibration, items: [wrong] }, m.layout);
				const v = verify(m, text);
				expect(v.match).toBe(false);
				expect(v.differences).toHaveLength(1);
				expect(v.differences[0]).toMatchObject({ x: m.item.x.points[l], y: m.item.y.points[k] });
				expect(v.verified).toBe(m.item.values.flat().length - 1);
			}),
			{ numRuns: 300 }
		);
	});
	it('a shifted row is found', () => {
		fc.assert(
			fc.property(made, (m) => {
				const shifted = { ...m.item, values: [...m.item.values.slice(1), m.item.values[0]!] };
				fc.pre(JSON.stringify(shifted.values) !== JSON.stringify(m.item.values));
				expect(verify(m, tableText({ ...m.calibration, items: [shifted] }, m.layout)).match).toBe(false);
			})
		);
	});
	it('a square body that was turned only matches where it is symmetric', () => {
		fc.assert(
			fc.property(made, (m) => {
				const n = Math.min(m.item.x.points.length, m.item.y.points.length);
				const square: MapItem = {
					...m.item,
					x: { ...m.item.x, points: m.item.x.points.slice(0, n) },
					y: { ...m.item.y, points: m.item.y.points.slice(0, n) },
					values: m.item.values.slice(0, n).map((row) => row.slice(0, n))
				};
				const flipped = {
					...square,
					values: square.values[0]!.map((_, c) => square.values.map((row) => row[c]!))
				};
				const symmetric = JSON.stringify(flipped.values) === JSON.stringify(square.values);
				const layout = { ...m.layout, axes: 'without' as const };
				const text = tableText({ ...m.calibration, items: [flipped] }, layout);
				expect(verify({ ...m, calibration: { ...m.calibration, items: [square] }, layout }, text).match).toBe(
					symmetric
				);
			})
		);
	});
	it('one that is still the revision before is called by its name', () => {
		fc.assert(
			fc.property(made, (m) => {
				const before = { ...m.item, values: m.item.values.map((row) => row.map((v) => v + 3)) };
				const old = { ...m.calibration, items: [before] };
				const v = verify(m, tableText(old, m.layout), [
					{ name: 'R2', calibration: old },
					{ name: 'R1', calibration: { ...old, items: [] } }
				]);
				expect(v).toMatchObject({ match: false, fits: 'R2' });
			})
		);
	});
});

describe('other axes', () => {
	const item: MapItem = {
		id: 'fuel.table',
		kind: 'map',
		unit: '%',
		x: { channel: 'rpm', unit: 'rpm', points: [1000, 2000] },
		y: { channel: 'map', unit: 'kPa', points: [100, 200] },
		values: [
			[50, 60],
			[70, 80]
		]
	};
	const c = calibrationWith([item]);
	it('are no match, and said as that', () => {
		const v = verifyText('\t1000\t2500\n100\t50\t60\n200\t70\t80\n', c, 'fuel.table');
		expect(v).toMatchObject({ match: false, verified: 0, differences: [] });
		expect(v.why).toContain('other axes: 2 points from 1000 to 2500');
	});
	it('in the unit of the program are the same: gauge psi over the air outside', () => {
		const text = '\t1000\t2000\n0.0\t50\t60\n14.5\t70\t80\n';
		expect(verifyText(text, c, 'fuel.table', { yUnit: 'psi gauge' }).match).toBe(true);
		expect(verifyText(text, c, 'fuel.table').match).toBe(false);
	});
	it('turned round or turned over are the same table', () => {
		expect(verifyText('\t2000\t1000\n200\t80\t70\n100\t60\t50\n', c, 'fuel.table').match).toBe(true);
		expect(verifyText('\t100\t200\n1000\t50\t70\n2000\t60\t80\n', c, 'fuel.table').match).toBe(true);
	});
	it('says what the decimals of a text hide', () => {
		const fine = {
			...c,
			items: [
				{
					...item,
					values: [
						[50.2, 60],
						[70, 80]
					]
				}
			]
		};
		const v = verifyText('\t1000\t2000\n100\t50\t60\n200\t70\t80\n', fine, 'fuel.table');
		expect(v.match).toBe(true);
		expect(v.why).toBe('1 cell may differ by less than the text shows: it has 0 decimals');
		expect(
			verifyText('\t1000\t2000\n100\t50\t60\n200\t70\t80\n', fine, 'fuel.table', { decimals: 1 }).match
		).toBe(false);
	});
});

describe('single values', () => {
	const c = calibrationWith([
		{ id: 'limit.boost', kind: 'scalar', title: 'Boost cut', unit: 'kPa', value: 220 }
	]);
	it('are lines to type, in the unit and decimals of the program', () => {
		expect(scalarLine(c, { item: 'limit.boost', title: 'Overboost', unit: 'psi gauge', decimals: 1 })).toBe(
			'Overboost\t17.2\tpsi gauge'
		);
	});
	it('are held against the revision by name', () => {
		expect(verifyText('Boost cut\t220\tkPa\n', c, 'limit.boost').match).toBe(true);
		expect(verifyText('limit.boost\t17.2\tpsi gauge\n', c, 'limit.boost').match).toBe(true);
		expect(verifyText('Boost cut\t210\tkPa\nRev limit\t7000\trpm\n', c, 'limit.boost')).toMatchObject({
			match: false,
			differences: [{ revision: 220, found: 210 }]
		});
		expect(verifyText('Idle\t900\trpm\nRev limit\t7000\trpm\n', c, 'limit.boost').why).toContain(
			'none of the pasted lines'
		);
	});
});

describe('what the program can hold', () => {
	it('is what the revision becomes: rounded in its unit, and cells that are the same stay as they are', () => {
		const item: MapItem = {
			id: 'lambda.target',
			kind: 'map',
			unit: 'λ',
			x: { channel: 'rpm', points: [1000, 2000] },
			y: { channel: 'map', points: [50, 100] },
			values: [
				[1, 0.853],
				[0.8, 0.8]
			]
		};
		const layout = tableLayoutSchema.parse({ item: item.id, unit: 'AFR', decimals: 1, x: item.x, y: item.y });
		const held = asHeld(item, layout);
		// 0.853 λ is 12.54 AFR; the program holds 12.5.
		expect(held.values[0]).toEqual([1, Number((12.5 / 14.7).toFixed(8))]);
		const c = calibrationWith([held], { fuelModel: 'maf' });
		expect(verifyText(tableText(c, layout), c, item.id, { units: 'AFR', decimals: 1 }).match).toBe(true);
	});
});

describe('layouts', () => {
	it.each(['speed-density', 'pulse-width', 'maf'] as const)(
		'a starter for %s is one, without a maker’s name',
		(model) => {
			const starter = starterLayout(model);
			expect(parseLayout(JSON.parse(JSON.stringify(starter)))).toEqual(layoutSchema.parse(starter));
			expect(starter.controller).toBeUndefined();
		}
	);
	it('are refused with the path of the first fault', () => {
		const l = starterLayout('maf');
		expect(() => parseLayout({ ...l, tables: [...l.tables, l.tables[0]] })).toThrow(
			'tables[4].item: "maf.curve" stands twice'
		);
		expect(() => parseLayout({ ...l, tables: [{ item: 'x', x: {} }] })).toThrow('tables[0].x.channel');
		expect(() => parseLayout({ ...l, schema: 'tanto.layout/2' })).toThrow('schema');
	});
	it('keep keys that they don’t know', () => {
		expect(parseLayout({ ...starterLayout('maf'), note: 'mine' })).toMatchObject({ note: 'mine' });
	});
});

describe('values in the unit of a program', () => {
	const target = (unit: string, values: number[][]): Calibration =>
		calibrationWith([
			{
				id: 'lambda.target',
				kind: 'map',
				unit,
				x: { channel: 'rpm', points: [1000, 2000] },
				y: { channel: 'map', points: [50, 100] },
				values
			}
		]);
	const lambda = [
		[1, 0.96],
		[0.9, 0.86]
	];
	const leaner = lambda.map((row) => row.map((v) => v + 0.05));
	const times = (rows: number[][], by: number) => rows.map((row) => row.map((v) => v * by));
	it('are judged as the same change is in the unit of the item', () => {
		const [own] = compare(target('λ', lambda), target('λ', leaner)).changes;
		const [afr] = compare(target('AFR', times(lambda, 14.7)), target('AFR', times(leaner, 14.7))).changes;
		expect(own!.rule).toContain('+0.050 λ');
		expect([afr!.class, afr!.rule]).toEqual([own!.class, own!.rule]);
	});
	it('have cliffs where the item has them, not where only its numbers are large', () => {
		const cliffs = (values: number[][], to: number) => {
			const before = target('AFR', times(values, 14.7));
			return cliffsOf(before, target('AFR', times([[to, values[0]![1]!], values[1]!], 14.7))).length;
		};
		const even = [
			[1, 0.97],
			[0.96, 0.93]
		];
		// 0.06 λ between neighbours is 0.88 of an AFR: none; 0.2 λ is one.
		expect(cliffs(even, 1.02)).toBe(0);
		expect(cliffs(even, 1.16)).toBe(1);
	});
});
