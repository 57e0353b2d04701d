import fc from 'fast-check';
import { gzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { parquetWriteBuffer } from 'hyparquet-writer';
import type { Log } from './log.ts';
import { readLog, readLogAsync } from './read.ts';
import { csvOf, jsonLinesOf, parquetOf } from './write.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const context = { gaugeStoich: 14.7, baroKpa: 100 };
const read = (data: Uint8Array | string) => readLog([typeof data === 'string' ? bytes(data) : data], context);
const channel = (log: Log, id: string) => log.channels.find((c) => c.id === id)!;

/** One drive, to be written in every dialect. */
interface Drive {
	time: number[];
	rpm: number[];
	mapKpa: number[];
	ectC: number[];
	lambda: number[];
}
const driveOf = (n: number, seed: number): Drive => {
	const at = (k: number) => Array.from({ length: n }, (_, i) => ((i * 37 + seed * 11 + k * 7) % 97) / 97);
	return {
		time: at(0).map((_, i) => i / 20),
		rpm: at(1).map((v) => Math.round(900 + 5000 * v)),
		mapKpa: at(2).map((v) => Number((30 + 140 * v).toFixed(1))),
		ectC: at(3).map((v) => Number((70 + 25 * v).toFixed(1))),
		lambda: at(4).map((v) => Number((0.75 + 0.4 * v).toFixed(3)))
	};
};
const table = (d: Drive, head: string[], row: (i: number) => string[], separator: string, end = '\n') =>
	[head.join(separator), ...d.time.map((_, i) => row(i).join(separator))].join(end) + end;
const plainHead = [
	'Time (s)',
	'Engine Speed (rpm)',
	'Manifold Pressure (kPa)',
	'Coolant Temp (°C)',
	'Lambda Bank 1 (λ)'
];
const plainRow = (d: Drive) => (i: number) => [
	d.time[i]!.toFixed(2),
	`${d.rpm[i]}`,
	`${d.mapKpa[i]}`,
	`${d.ectC[i]}`,
	`${d.lambda[i]}`
];
const plain = (d: Drive) => table(d, plainHead, plainRow(d), ',');
const utf16 = (text: string, little: boolean) => {
	const out = new Uint8Array(2 + text.length * 2);
	const view = new DataView(out.buffer);
	view.setUint16(0, 0xfeff, little);
	for (let i = 0; i < text.length; i++) view.setUint16(2 + 2 * i, text.charCodeAt(i), little);
	return out;
};

const DIALECTS: Record<string, (d: Drive) => Uint8Array | string> = {
	'comma, units in brackets': plain,
	'semicolon, decimal comma, CRLF': (d) =>
		table(d, plainHead, (i) => plainRow(d)(i).map((c) => c.replace('.', ',')), ';', '\r\n'),
	'tab, units row': (d) =>
		table(d, ['Time', 'RPM', 'MAP', 'Coolant Temp', 'Lambda 1'], plainRow(d), '\t').replace(
			'\n',
			'\ns\trpm\tkPa\t°C\tλ\n'
		),
	'preamble and quotes': (d) =>
		`Some logger 3.1\nstarted: today\n\n${table(
			d,
			plainHead.map((h) => `"${h}"`),
			(i) => plainRow(d)(i).map((c) => `"${c}"`),
			','
		)}`,
	'other units': (d) =>
		table(
			d,
			[
				'Time (ms)',
				'Engine Speed (rpm)',
				'Manifold Pressure (psi)',
				'Coolant Temp (°F)',
				'Lambda Bank 1 (AFR)'
			],
			(i) => [
				(d.time[i]! * 1000).toFixed(0),
				`${d.rpm[i]}`,
				(d.mapKpa[i]! / 6.894757).toFixed(4),
				(d.ectC[i]! * 1.8 + 32).toFixed(2),
				(d.lambda[i]! * 14.7).toFixed(4)
			],
			','
		),
	'clock times': (d) =>
		table(
			d,
			['Time', ...plainHead.slice(1)],
			(i) => [
				`12:${String(Math.floor(d.time[i]! / 60)).padStart(2, '0')}:${(d.time[i]! % 60).toFixed(3).padStart(6, '0')}`,
				...plainRow(d)(i).slice(1)
			],
			','
		),
	'UTF-16, little end first': (d) => utf16(plain(d), true),
	'UTF-16, big end first': (d) => utf16(plain(d), false),
	gzip: (d) => gzipSync(bytes(plain(d))),
	zip: (d) => zipSync({ 'logs/drive.csv': bytes(plain(d)), '__MACOSX/x': bytes('junk') }),
	'zip, stored': (d) => zipSync({ 'drive.csv': bytes(plain(d)) }, { level: 0 }),
	'JSON Lines': (d) =>
		d.time
			.map((t, i) =>
				JSON.stringify({
					time: t,
					'Engine Speed (rpm)': d.rpm[i],
					'Manifold Pressure (kPa)': d.mapKpa[i],
					'Coolant Temp (°C)': d.ectC[i],
					'Lambda Bank 1 (λ)': d.lambda[i]
				})
			)
			.join('\n'),
	'long form': (d) =>
		`Time (s),Channel,Value,Unit\n${d.time
			.map(
				(t, i) =>
					`${t},Engine Speed,${d.rpm[i]},rpm\n${t},Manifold Pressure,${d.mapKpa[i]},kPa\n${t},Coolant Temp,${d.ectC[i]},°C\n${t},Lambda Bank 1,${d.lambda[i]},λ`
			)
			.join('\n')}\n`,
	'lined up with spaces': (d) =>
		`Recorded today\n\n${[plainHead, ...d.time.map((_, i) => plainRow(d)(i))]
			.map((cells) => cells.map((c) => c.padStart(24)).join('  '))
			.join('\r\n')}\r\n`,
	'lined up with spaces, units row, decimal comma': (d) =>
		[
			['Time', 'RPM', 'MAP', 'Coolant', 'Lambda1'],
			['s', 'rpm', 'kPa', '°C', 'λ'],
			...d.time.map((_, i) => plainRow(d)(i).map((c) => c.replace('.', ',')))
		]
			.map((cells) => cells.map((c) => c.padEnd(9)).join(' '))
			.join('\n'),
	'own time per channel': (d) =>
		table(
			d,
			[
				'Time (s)',
				'Engine Speed (rpm)',
				'Time (s)',
				'Manifold Pressure (kPa)',
				'Time (s)',
				'Coolant Temp (°C)',
				'Lambda Bank 1 (λ)'
			],
			(i) => [
				`${d.time[i]}`,
				`${d.rpm[i]}`,
				`${d.time[i]}`,
				`${d.mapKpa[i]}`,
				`${d.time[i]}`,
				`${d.ectC[i]}`,
				`${d.lambda[i]}`
			],
			','
		)
};

describe('the same drive in every dialect gives the same columns', () => {
	it.each(Object.entries(DIALECTS))('%s', (_, write) => {
		fc.assert(
			fc.property(fc.integer({ min: 40, max: 300 }), fc.integer({ min: 0, max: 90 }), (n, seed) => {
				const d = driveOf(n, seed);
				const log = read(write(d));
				for (const [id, values, digits] of [
					['rpm', d.rpm, 6],
					['map', d.mapKpa, 2],
					['ect', d.ectC, 1],
					['lambda.b1', d.lambda, 3]
				] as const) {
					const c = channel(log, id);
					expect(c.values.length).toBe(n);
					for (let i = 0; i < n; i += 7) {
						expect(c.values[i]).toBeCloseTo(values[i]!, digits);
						expect(c.timeS[i]).toBeCloseTo(d.time[i]!, 3);
					}
				}
			}),
			{ numRuns: 12 }
		);
	});

	it('lined up with spaces, in pieces that end anywhere', () => {
		const d = driveOf(9000, 5);
		const text = bytes(
			[['Time', 'RPM', 'MAP', 'ECT', 'Lambda1'], ...d.time.map((_, i) => plainRow(d)(i))]
				.map((cells) => cells.map((c) => c.padStart(9)).join(''))
				.join('\n')
		);
		expect(text.length).toBeGreaterThan(1 << 18);
		const pieces = Array.from({ length: Math.ceil(text.length / 777) }, (_, i) =>
			text.subarray(777 * i, 777 * (i + 1))
		);
		const log = readLog(pieces, context);
		expect(log.rows).toBe(9000);
		expect(Array.from(channel(log, 'rpm').values)).toEqual(d.rpm);
	});
	it('words and numbers in lines are no columns', () => {
		expect(() => read('Dear sir\n1 2\n3 4\nyours\n')).toThrow('no columns found');
	});

	it('Parquet', async () => {
		const d = driveOf(200, 3);
		const buffer = parquetWriteBuffer({
			columnData: [
				{ name: 'time', data: d.time, type: 'DOUBLE' },
				{ name: 'Engine Speed (rpm)', data: d.rpm, type: 'INT32' },
				{ name: 'Manifold Pressure (kPa)', data: d.mapKpa, type: 'DOUBLE' }
			]
		});
		async function* whole() {
			yield new Uint8Array(buffer);
		}
		const log = await readLogAsync(whole(), context);
		expect(Array.from(channel(log, 'rpm').values)).toEqual(d.rpm);
		expect(channel(log, 'map').values[150]).toBeCloseTo(d.mapKpa[150]!, 4);
	});
});

describe('logs out', () => {
	const d = driveOf(120, 4);
	const log = () => read(plain(d));
	const same = (back: Log) => {
		for (const c of log().channels)
			expect(Array.from(channel(back, c.id).values)).toEqual(Array.from(c.values));
		expect(back.durationS).toBeCloseTo(log().durationS, 6);
	};
	it('canonical CSV has canonical ids, time first, and reads back the same', () => {
		const text = [...csvOf(log())].join('');
		expect(text.split('\n')[0]).toBe('time,rpm,map,ect,lambda.b1');
		same(read(text));
	});
	it('JSON Lines read back the same', () => same(read([...jsonLinesOf(log())].join(''))));
	it('Parquet reads back the same', async () => {
		async function* whole() {
			yield parquetOf(log());
		}
		same(await readLogAsync(whole(), context));
	});
	it('rates that differ give empty cells, not invented values', () => {
		const mixed = read('Time (s),RPM,Time (s),Coolant Temp (°C)\n0,900,0,80\n0.1,910,0.25,81\n0.2,920,,\n');
		expect([...csvOf(mixed)].join('')).toBe('time,rpm,ect\n0,900,80\n0.1,910,\n0.2,920,\n0.25,,81\n');
	});
});

describe('several rates', () => {
	it('keeps the own rate of each channel when every group has its time', () => {
		const rows = Array.from(
			{ length: 100 },
			(_, i) =>
				`${(i / 50).toFixed(3)},${1000 + i},${i < 20 ? (i / 10).toFixed(2) : ''},${i < 20 ? 80 + i : ''}`
		);
		const log = read(`Time (s),RPM,Time (s),Coolant Temp (°C)\n${rows.join('\n')}\n`);
		expect(channel(log, 'rpm').rateHz).toBeCloseTo(50, 1);
		expect(channel(log, 'ect').rateHz).toBeCloseTo(10, 1);
		expect(channel(log, 'ect').values).toHaveLength(20);
		expect(log.durationS).toBeCloseTo(1.98, 6);
	});
	it('leaves out a header that is repeated where recordings were joined', () => {
		const part = Array.from({ length: 50 }, (_, i) => `${i / 10},900,30`).join('\n');
		const log = read(`Time (s),RPM,MAP (kPa)\n${part}\nTime (s),RPM,MAP (kPa)\n${part}\n`);
		expect(channel(log, 'rpm').values).toHaveLength(100);
		expect(log.timeFaults.restartsS).toHaveLength(1);
	});
});

describe('nasty input is refused with one message', () => {
	const text = plain(driveOf(3000, 1));
	it.each([
		['a gzip cut off', gzipSync(bytes(text)).subarray(0, 2000), 'gzip file is damaged or ends early'],
		[
			'a gzip of noise',
			Uint8Array.from([0x1f, 0x8b, 8, 0, ...Array.from({ length: 200 }, (_, i) => (i * 89) % 256)]),
			'gzip file'
		],
		['a zip cut off', zipSync({ 'a.csv': bytes(text) }).subarray(0, 2000), 'zip file is damaged, ends early'],
		['a zip with two logs', zipSync({ 'a.csv': bytes(text), 'b.csv': bytes(text) }), 'more than one file'],
		['an empty zip', zipSync({ 'folder/': new Uint8Array(0) }), 'holds no file'],
		['a zip in a zip', zipSync({ 'a.zip': zipSync({ 'a.csv': bytes(text) }) }), 'archive inside an archive'],
		['zeros that unpack without end', gzipSync(new Uint8Array(90 << 20)), 'binary file'],
		['a bomb', gzipSync(bytes('Time,RPM\n' + '1,900\n'.repeat(12 << 20))), 'far more than any log'],
		['JSON that is no object', '{"time":0,"rpm":1}\n[1,2]\n', 'line 2: every line has to be one object'],
		['broken JSON', '{"time":0,"rpm":1}\n{"time":', 'line 2: no valid JSON'],
		['JSON without time', '{"rpm":1}\n{"rpm":2}\n', 'no time column'],
		[
			'mostly no time',
			`Time,RPM\n${Array.from({ length: 50 }, (_, i) => (i % 2 ? `,${i}` : `${i},${i}`)).join('\n')}\n`,
			'have no readable time'
		]
	])('%s', (_, data, message) => {
		expect(() => read(data)).toThrow(message);
	});
	it('a path that climbs out of the archive is only a name', () => {
		expect(read(zipSync({ '../../etc/passwd.csv': bytes(text) })).rows).toBe(3000);
	});
	it('keys of the language are plain names', () => {
		const log = read(
			'{"time":0,"rpm":900,"__proto__":1,"constructor":2}\n{"time":1,"rpm":910,"__proto__":3}\n'
		);
		expect(channel(log, 'rpm').values).toHaveLength(2);
		expect(log.unmapped.map((u) => u.raw).sort()).toEqual(['__proto__', 'constructor']);
	});
	it('a damaged Parquet file', async () => {
		async function* broken() {
			yield bytes('PAR1 this is nothing PAR1');
		}
		await expect(readLogAsync(broken(), context)).rejects.toThrow('Parquet file is damaged');
	});
});
