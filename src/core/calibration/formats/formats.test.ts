import { calibrationWith } from '../../testing/hand-made.ts';
import { DOMParser } from '@xmldom/xmldom';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Calibration, type MapItem } from '../document.ts';
import { InputError } from '../../input-error.ts';
import { fromCdf, toCdf } from './cdf.ts';
import { allTablesCsv, tableCsv, tableFromCsv } from './csv.ts';

const word = fc
	.string({ unit: fc.constantFrom(...'abcXYZ019 .@&<>"\'°%äµ-/'), minLength: 1, maxLength: 12 })
	.map((s) => s.trim() || 'a');
const number = fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((v) => (v === 0 ? 0 : v));
const axis = fc.record({
	channel: fc.constantFrom('rpm', 'map', 'airmass', 'camIntake'),
	points: fc
		.uniqueArray(fc.integer({ min: 0, max: 9000 }), { minLength: 1, maxLength: 6 })
		.map((a) => a.sort((x, y) => x - y))
});
const about = fc.record(
	{
		title: word,
		group: word,
		unit: word,
		decimals: fc.integer({ min: 0, max: 6 }),
		extra: fc.record({ a: number })
	},
	{ requiredKeys: [] }
);
const item = fc.oneof(
	fc.tuple(about, number).map(([a, value]) => ({ ...a, kind: 'scalar', value })),
	fc
		.tuple(about, fc.oneof(word, number, fc.boolean()))
		.map(([a, value]) => ({ ...a, kind: 'setting', value })),
	fc
		.tuple(about, axis, fc.array(number, { minLength: 6, maxLength: 6 }))
		.map(([a, x, v]) => ({ ...a, kind: 'curve', x, values: v.slice(0, x.points.length) })),
	fc.tuple(about, axis, axis, fc.array(number, { minLength: 36, maxLength: 36 })).map(([a, x, y, v]) => ({
		...a,
		kind: 'map',
		x,
		y,
		values: y.points.map((_, r) => x.points.map((__, c) => v[r * 6 + c]!))
	}))
);
const calibrations = fc
	.tuple(word, fc.constantFrom('pulse-width', 'speed-density', 'maf'), fc.array(item, { maxLength: 6 }))
	.map(([name, fuelModel, items]) =>
		calibrationWith(
			items.map((i, k) => ({ ...i, id: `item@${k}` })),
			{ name, fuelModel, note: 'an unknown key' }
		)
	);

describe('CDF 2.0', () => {
	it('loses nothing on the way out and back', () => {
		fc.assert(
			fc.property(calibrations, (c) => {
				expect(fromCdf(toCdf(c))).toEqual(c);
			})
		);
	});
	it('keeps blends and the vehicle', () => {
		const c = calibrationWith(
			[
				{ id: 'a', kind: 'scalar', value: 1 },
				{ id: 'b', kind: 'scalar', value: 2 }
			],
			{
				name: 'n',
				vehicle: 'v',
				blends: [{ item: 'fuel.table', channel: 'camIntake', points: [105, 115], members: ['a', 'b'] }]
			}
		);
		expect(fromCdf(toCdf(c))).toEqual(c);
	});
	it('is read by an independent XML reader (xmldom), which finds the same numbers', () => {
		fc.assert(
			fc.property(calibrations, (c) => {
				const faults: string[] = [];
				const document = new DOMParser({
					onError: (level, message) => faults.push(`${level}: ${message}`)
				}).parseFromString(toCdf(c), 'text/xml');
				expect(faults).toEqual([]);
				const instances = document.getElementsByTagName('SW-INSTANCE');
				expect(instances.length).toBe(c.items.length);
				c.items.forEach((i, k) => {
					expect(instances[k]!.getElementsByTagName('DISPLAY-NAME')[0]!.textContent).toBe(i.id);
					if (i.kind !== 'map') return;
					const rows = instances[k]!.getElementsByTagName('VG');
					const values = Array.from(rows, (row) =>
						Array.from(row.getElementsByTagName('V'), (v) => Number(v.textContent))
					);
					expect(values).toEqual(i.values);
				});
			}),
			{ numRuns: 40 }
		);
	});
	it.each([
		[
			'300 000 attributes',
			`<MSRSW ${Array.from({ length: 300_000 }, (_, i) => `a${i}="1"`).join(' ')}/>`,
			'longer than 20 kB'
		],
		['quotes that hide the end of a tag', `<MSRSW a=">${'>'.repeat(30_000)}"/>`, 'longer than 20 kB'],
		['200 000 levels', `<MSRSW>${'<a>'.repeat(200_000)}${'</a>'.repeat(200_000)}</MSRSW>`, 'nested deeper'],
		['200 000 tags that never end', `<MSRSW>${'<a>'.repeat(200_000)}`, 'not valid XML']
	])('%s are refused in one short sentence', (_, xml, words) => {
		let said = '';
		try {
			fromCdf(xml);
		} catch (e) {
			expect(e).toBeInstanceOf(InputError);
			said = (e as Error).message;
		}
		expect(said).toContain(words);
		expect(said.length).toBeLessThan(300);
	});
	it('reads what another tool wrote: no data of ours, one group per x point', () => {
		const c = fromCdf(`<?xml version="1.0"?><!DOCTYPE MSRSW PUBLIC "-//X" "cdf20.dtd">
<MSRSW><SHORT-NAME>other</SHORT-NAME><CATEGORY>CDF20</CATEGORY><SW-SYSTEMS><SW-SYSTEM><SHORT-NAME>s</SHORT-NAME>
<SW-INSTANCE-SPEC><SW-INSTANCE-TREE><SHORT-NAME>t</SHORT-NAME>
<SW-INSTANCE><SHORT-NAME>spark.table</SHORT-NAME><CATEGORY>MAP</CATEGORY>
<SW-VALUE-CONT><UNIT-DISPLAY-NAME>deg</UNIT-DISPLAY-NAME><SW-VALUES-PHYS>
<VG><V>1</V><V>2</V></VG><VG><V>3</V><V>4</V></VG><VG><V>5</V><V>6</V></VG></SW-VALUES-PHYS></SW-VALUE-CONT>
<SW-AXIS-CONTS><SW-AXIS-CONT><UNIT-DISPLAY-NAME>kPa</UNIT-DISPLAY-NAME><SW-AXIS-INDEX>2</SW-AXIS-INDEX><SW-VALUES-PHYS><V>40</V><V>100</V></SW-VALUES-PHYS></SW-AXIS-CONT>
<SW-AXIS-CONT><UNIT-DISPLAY-NAME>rpm</UNIT-DISPLAY-NAME><SW-AXIS-INDEX>1</SW-AXIS-INDEX><SW-VALUES-PHYS><V>1000</V><V>2000</V><V>3000</V></SW-VALUES-PHYS></SW-AXIS-CONT></SW-AXIS-CONTS>
</SW-INSTANCE></SW-INSTANCE-TREE></SW-INSTANCE-SPEC></SW-SYSTEM></SW-SYSTEMS></MSRSW>`);
		expect(c.fuelModel).toBe('speed-density');
		expect(c.items[0]).toMatchObject({
			id: 'spark.table',
			unit: 'deg',
			x: { channel: 'rpm', points: [1000, 2000, 3000] },
			y: { channel: 'map', points: [40, 100] },
			values: [
				[1, 3, 5],
				[2, 4, 6]
			]
		});
	});
	it.each([
		['broken XML', '<MSRSW><A></MSRSW>', 'not valid XML'],
		['another document', '<a><b>1</b></a>', 'no CDF 2.0'],
		['entities of its own', '<!DOCTYPE a [<!ENTITY b "c">]><MSRSW>&b;</MSRSW>', 'entities'],
		[
			'a value that is no number',
			'<MSRSW><CATEGORY>CDF20</CATEGORY><SW-SYSTEMS><SW-SYSTEM><SW-INSTANCE-SPEC><SW-INSTANCE-TREE><SW-INSTANCE><SHORT-NAME>boost</SHORT-NAME><SW-VALUE-CONT><SW-VALUES-PHYS><V>much</V></SW-VALUES-PHYS></SW-VALUE-CONT></SW-INSTANCE></SW-INSTANCE-TREE></SW-INSTANCE-SPEC></SW-SYSTEM></SW-SYSTEMS></MSRSW>',
			'boost'
		]
	])('refuses %s and says why', (_, text, why) => {
		expect(() => fromCdf(text)).toThrow(why);
	});
});

describe('CSV per table', () => {
	const table: MapItem = {
		id: 'fuel.table',
		kind: 'map',
		decimals: 1,
		x: { channel: 'rpm', points: [500, 1000] },
		y: { channel: 'map', points: [20, 100.5] },
		values: [
			[30, 31.25],
			[50, -2]
		]
	};
	it('has x points in the first row, y points in the first column, an empty corner', () => {
		expect(tableCsv(table)).toBe(',500,1000\n20,30,31.25\n100.5,50,-2\n');
		expect(tableCsv({ id: 'c', kind: 'curve', x: { channel: 'rpm', points: [1, 2] }, values: [3, 4] })).toBe(
			',1,2\n,3,4\n'
		);
	});
	it('comes back as it went', () => {
		fc.assert(
			fc.property(calibrations, (c: Calibration) => {
				for (const i of c.items)
					if (i.kind === 'map' || i.kind === 'curve') expect(tableFromCsv(i, tableCsv(i))).toEqual(i);
			})
		);
	});
	it('reads semicolons with a decimal comma, as spreadsheets of some countries write', () => {
		const back = tableFromCsv(table, ';500;1000\n20;30;31,25\n100,5;50;-2\n');
		expect(back).toEqual(table);
	});
	it('sets all tables one after the other under their ids', () => {
		const c = calibrationWith([table, { ...table, id: 'b' }], { name: 'n', fuelModel: 'maf' });
		expect(allTablesCsv(c).split('\n\n')).toHaveLength(2);
		expect(allTablesCsv(c).startsWith('fuel.table\n,500')).toBe(true);
	});
	it.each([
		[',500,1000\n20,30\n', 'line 2'],
		[',500,x\n20,30,31\n', 'line 1, column 3'],
		['', 'no rows']
	])('refuses %j and says where', (text, where) => {
		expect(() => tableFromCsv(table, text)).toThrow(where);
	});
});
