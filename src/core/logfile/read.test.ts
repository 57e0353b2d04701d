import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { InputError } from '../input-error.ts';
import { parseCell } from './cell.ts';
import { readLog } from './read.ts';
import { TableReader } from './table.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const context = { gaugeStoich: 14.7, baroKpa: 100 };
const read = (text: string) => readLog([bytes(text)], context);
const column = (text: string, id: string) =>
	Array.from(read(text).channels.find((c) => c.id === id)?.values ?? []);

const PLAIN = `Time (s),Engine Speed (rpm),Manifold Pressure (kPa),Lambda Bank 1 (AFR)
0.00,1000,40.5,14.7
0.05,1010,,14.55
0.10,1020,41.5,NaN
`;

describe('reading text exports', () => {
	it('reads names and units in brackets, empty cells as missing', () => {
		const log = read(PLAIN);
		expect(log.rows).toBe(3);
		expect(log.durationS).toBeCloseTo(0.1, 9);
		expect(column(PLAIN, 'rpm')).toEqual([1000, 1010, 1020]);
		expect(column(PLAIN, 'map')).toEqual([40.5, Number.NaN, 41.5]);
		expect(column(PLAIN, 'lambda.b1')[0]).toBeCloseTo(1, 6);
		expect(column(PLAIN, 'lambda.b1')[2]).toBeNaN();
		expect(log.channels.find((c) => c.id === 'lambda.b1')?.note).toContain('÷ 14.7');
	});

	it('reads a units row below the header', () => {
		const text = 'Time,RPM,Coolant Temp\ns,rpm,°F\n0,900,190\n0.1,905,191\n';
		expect(column(text, 'ect')[0]).toBeCloseTo(87.78, 2);
	});

	it('skips a preamble, takes semicolons, decimal commas, CRLF and a byte order mark', () => {
		const text =
			'\ufeffRecorded with an invented logger\r\nVehicle: test\r\n\r\nTime [s];RPM [rpm];MAP [kPa]\r\n0,0;900;30,5\r\n0,1;910;31,5\r\n';
		expect(column(text, 'map')).toEqual([30.5, 31.5]);
		expect(read(text).durationS).toBeCloseTo(0.1, 9);
	});

	it('reads tabs, quoted names and quoted values with separators in them', () => {
		const text = '"Time"\t"Engine Speed"\t"Remark"\n0\t900\t"a\tb"\n0.1\t"910"\t""\n';
		expect(column(text, 'rpm')).toEqual([900, 910]);
	});

	it('reads clock times and milliseconds as seconds from the start', () => {
		const clock = 'Time,RPM,MAP (kPa)\n10:00:00.000,900,30\n10:00:00.500,910,31\n';
		expect(read(clock).durationS).toBeCloseTo(0.5, 6);
		const milli = 'Time (ms),RPM,MAP (kPa)\n5000,900,30\n5100,910,31\n';
		expect(read(milli).durationS).toBeCloseTo(0.1, 6);
	});

	it('sets joined recordings one after the other and says so', () => {
		const recording = Array.from({ length: 30 }, (_, i) => `${i / 10},900`).join('\n');
		const log = read(`Time (s),RPM\n${recording}\n${recording}\n`);
		expect(log.durationS).toBeCloseTo(5.9, 6);
		expect(log.notes.join()).toContain('starts again 1 time');
	});

	it('flips knock retard that is written as a negative correction, and says so', () => {
		const log = read('Time (s),RPM,Knock Retard (°)\n0,900,0\n1,900,-2.5\n2,900,0\n');
		const knock = log.channels.find((c) => c.id === 'knockRetard')!;
		expect(Array.from(knock.values)).toEqual([0, 2.5, 0]);
		expect(knock.note).toContain('flipped');
	});

	it('splits a knock channel with both signs into retard and advance', () => {
		const text = 'Time (s),RPM,Knock Correction (°)\n0,900,1\n1,900,-2\n2,900,0\n';
		expect(column(text, 'knockRetard')).toEqual([0, 2, 0]);
		expect(column(text, 'knockAdvance')).toEqual([1, 0, 0]);
	});

	it('leaves columns that identify people or places out', () => {
		const log = read('Time (s),RPM,GPS Latitude,VIN\n0,900,50.1,1\n1,900,50.2,1\n');
		expect(log.channels.map((c) => c.id)).toEqual(['rpm']);
		expect(log.unmapped.every((u) => u.private)).toBe(true);
	});

	it('drops half a last row, as a logger leaves it that lost power', () => {
		expect(read(`${PLAIN}0.15,10`).rows).toBe(3);
	});

	it('remembers what was assigned by hand', () => {
		const text = 'Time (s),RPM,Thing 7 (V)\n0,900,1.5\n1,900,1.6\n';
		const remembered = new Map([['Thing 7|V', { channel: 'vbat', unit: null }]]);
		const log = readLog([bytes(text)], { ...context, remembered });
		expect(log.channels.find((c) => c.id === 'vbat')?.source).toBe('assigned');
		expect(read(text).unmapped.map((u) => u.raw)).toEqual(['Thing 7']);
	});
});

describe('what is no log is refused with one message', () => {
	const ragged = `Time,RPM,MAP\n${Array.from({ length: 40 }, (_, i) => (i % 3 ? '1,2,3' : '1,2')).join('\n')}\n`;
	it.each([
		['', 'the file is empty'],
		['hello', 'no columns found'],
		['Time,RPM,MAP\n', 'no row of data'],
		['1,2,3\n4,5,6\n', 'no header line'],
		['RPM (rpm),MAP (kPa)\n900,30\n910,31\n', 'no time column'],
		[ragged, "don't have the 3 cells"],
		[`Time,RPM\n0,"900\n`, 'never closed'],
		[`\u0000\u0000\u0000\u0000PK\u0003\u0004${'\u0000'.repeat(100)}`, 'binary file']
	])('%j', (text, message) => {
		expect(() => read(text)).toThrow(InputError);
		expect(() => read(text)).toThrow(message);
	});

	it('random bytes are told as what they are', () => {
		const noise = Uint8Array.from({ length: 5000 }, (_, i) => (Math.imul(i + 1, 2654435761) >>> 13) & 255);
		expect(() => readLog([noise], context)).toThrow('binary file');
	});
	it('a line without end', () => {
		expect(() => read(`Time,RPM\n0,${'9'.repeat(3 << 20)}`)).toThrow('longer than 1 MB');
	});
	it('too many columns, and names the limit', () => {
		const names = Array.from({ length: 1200 }, (_, i) => `c${i}`).join(',');
		expect(() => read(`${names}\n${'1,'.repeat(1199)}1\n`)).toThrow('at most 1000');
	});
	it('300 columns are no trouble', () => {
		const names = ['Time', 'RPM', ...Array.from({ length: 298 }, (_, i) => `Spare ${i}`)].join(',');
		const log = read(`${names}\n${'1,'.repeat(299)}1\n${'2,'.repeat(299)}2\n`);
		expect(log.unmapped.length).toBe(298);
	});
});

describe('the scanner', () => {
	it('gives the same columns however the file is cut into pieces, also when the caller fills one buffer again', () => {
		const rows = Array.from(
			{ length: 400 },
			(_, i) => `${(i / 20).toFixed(2)},${900 + i},${(i * 0.37).toFixed(3)}`
		);
		const text = `Time (s),RPM (rpm),MAP (kPa)\n${rows.join('\n')}\n`;
		const whole = read(text);
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 900 }), (size) => {
				const source = bytes(text);
				const buffer = new Uint8Array(size);
				function* pieces() {
					for (let at = 0; at < source.length; at += size) {
						const part = source.subarray(at, at + size);
						buffer.set(part);
						yield buffer.subarray(0, part.length);
					}
				}
				const log = readLog(pieces(), context);
				expect(log.rows).toBe(whole.rows);
				log.channels.forEach((c, k) => expect(c.values).toEqual(whole.channels[k]!.values));
			}),
			{ numRuns: 60 }
		);
	});

	it('reads every decimal number as the language itself does', () => {
		fc.assert(
			fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.integer({ min: 0, max: 6 }), (v, d) => {
				const text = v.toFixed(d);
				const reader = new TableReader();
				reader.push(bytes(`Time,Seconds\n0,${text}\n`));
				// "Seconds" is kept in double precision.
				expect(reader.finish().columns[0]!.values[0]).toBe(Number(text));
			})
		);
	});

	it.each([
		['1e3', 1000],
		['on', 1],
		['FALSE', 0],
		['--', Number.NaN],
		['00:01:30.5', 90.5],
		['2030-01-02T00:00:01Z', Date.UTC(2030, 0, 2) / 1000 + 1]
	])('reads %s', (text, value) => {
		expect(parseCell(text, false)).toEqual(value);
	});
	it('takes no text for a number', () => {
		expect(parseCell('constructor', false)).toBeNull();
		expect(parseCell('12abc', false)).toBeNull();
	});
});
