/** Files that nobody should have to meet: broken, hostile or merely odd. What each must answer stands beside it. */
import { gzipSync, strToU8, zipSync } from 'fflate';
import { parquetWriteBuffer } from 'hyparquet-writer';

export interface NastyInput {
	name: string;
	bytes: () => Uint8Array;
	/** The one clear message; `null` for odd files that are read without harm. */
	message: RegExp | null;
}

const text = (t: string) => () => strToU8(t);
const HEAD = 'Time (s),Engine Speed (rpm),Manifold Pressure (kPa)';
const rows = (n: number, row = (i: number) => `${i / 10},${1000 + i},${50 + (i % 9)}`) =>
	Array.from({ length: n }, (_, i) => row(i)).join('\n');
const good = (n = 50) => `${HEAD}\n${rows(n)}\n`;
const many = (n: number, cell: (i: number) => string) =>
	Array.from({ length: n }, (_, i) => cell(i)).join(',');
const refused = (name: string, bytes: () => Uint8Array, message: RegExp): NastyInput => ({
	name,
	bytes,
	message
});
const harmless = (name: string, bytes: () => Uint8Array): NastyInput => ({ name, bytes, message: null });

function utf16(t: string, cut = 0): Uint8Array {
	const out = new Uint8Array(2 + t.length * 2 - cut);
	out.set([0xff, 0xfe]);
	for (let i = 0; i < t.length * 2 - cut; i++) out[2 + i] = (t.charCodeAt(i >> 1) >> (i % 2 ? 8 : 0)) & 0xff;
	return out;
}

function random(n: number): Uint8Array {
	let x = 12345;
	return Uint8Array.from({ length: n }, () => (x = (x * 1103515245 + 12345) & 0x7fffffff) >> 16);
}

function parquet(columns: Parameters<typeof parquetWriteBuffer>[0]['columnData']): Uint8Array {
	return new Uint8Array(parquetWriteBuffer({ columnData: columns }));
}

export const NASTY: readonly NastyInput[] = [
	// Nothing in it
	refused(
		'only a byte order mark',
		() => new Uint8Array([0xef, 0xbb, 0xbf]),
		/no columns found|no line ends|empty/
	),
	refused('only line ends', text('\n\n\n\n\n'), /no columns found/),
	refused('only blanks', text('     \n    \n'), /no columns found/),
	refused('only separators', text(',,,,\n,,,,\n,,,,\n'), /no header line/),
	refused('a header and nothing else', text(`${HEAD}\n`), /no row of data/),
	refused('a header and a units row', text('Time,RPM,MAP\ns,rpm,kPa\n'), /no row of data/),
	refused('all cells empty', text(`${HEAD}\n${rows(40, () => ',,')}\n`), /no row of data|no readable time/),
	refused('all cells words', text(`${HEAD}\n${rows(40, () => 'a,b,c')}\n`), /no row of data/),
	refused('the time column is empty', text(`${HEAD}\n${rows(40, (i) => `,${1000 + i},50`)}\n`), /time/),
	// Not a log
	refused('a letter', text('Dear tuner,\nhere is my log.\nRegards\n'), /no row of data|no columns|no header/),
	refused(
		'a page of the web',
		text('<!doctype html>\n<html><head><title>Log</title></head>\n<body onload="x()">\n</body></html>\n'),
		/no columns|no header/
	),
	refused('random bytes', () => random(5000), /binary|no line ends|no columns|no header/),
	refused('NUL bytes', () => new Uint8Array(4000), /binary/),
	refused(
		'a table with NUL bytes in it',
		text(`${HEAD}\n${rows(40, (i) => `${i},${'\u0000'.repeat(8)},3`)}\n`),
		/binary/
	),
	refused(
		'a picture',
		() => new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, ...random(600)]),
		/binary|no columns/
	),
	refused('numbers without a header', text(`${rows(60)}\n`), /no header line/),
	refused('one column', text(`RPM\n${rows(40, (i) => `${1000 + i}`)}\n`), /no columns found/),
	refused('a JSON document', text(JSON.stringify({ log: [1, 2, 3], name: 'x' }, null, 2)), /line \d+/),
	// Torn and ragged
	refused(
		'half of the rows have a cell too few',
		text(`${HEAD}\n${rows(60, (i) => (i % 2 ? '1,2' : `${i},2,3`))}\n`),
		/don't have the 3 cells/
	),
	refused(
		'rows with a cell too many',
		text(`${HEAD}\n${rows(60, (i) => (i % 2 ? `${i},2,3,4` : `${i},2,3`))}\n`),
		/don't have the 3 cells/
	),
	refused(
		'a quote that never closes',
		text(`${HEAD}\n0,"1000,50\n${rows(30)}\n`),
		/quoted cell is never closed/
	),
	harmless('the last row is torn', text(`${good()}5.0,10`)),
	harmless(
		'a row of junk in the middle',
		text(`${HEAD}\n${rows(60)}\n######\n${rows(60, (i) => `${6 + i / 10},1500,60`)}\n`)
	),
	harmless(
		'a separator at the end of each row',
		text(`${HEAD},\n${rows(40, (i) => `${i / 10},1000,50,`)}\n`)
	),
	harmless(
		'line feeds and carriage returns mixed',
		text(good().replace(/\n/g, (_, i: number) => (i % 3 ? '\r\n' : '\n')))
	),
	harmless('every row stands twice', text(`${HEAD}\n${rows(60, (i) => `${(i >> 1) / 10},1000,50`)}\n`)),
	// Too much of something
	refused(
		'100 000 columns',
		text(`${many(100_000, (i) => `c${i}`)}\n${many(100_000, () => '1')}\n`),
		/columns; at most 1000|no line ends/
	),
	refused(
		'1001 columns',
		text(`${many(1001, (i) => `c${i}`)}\n${rows(20, () => many(1001, () => '1'))}\n`),
		/1001 columns; at most 1000/
	),
	refused('one line of 200 MB', () => new Uint8Array(200e6).fill(49), /no line ends|no columns/),
	refused(
		'a data line of 3 MB',
		text(`${HEAD}\n${rows(9000)}\n${'1'.repeat(3e6)},2,3\n${rows(20)}\n`),
		/longer than 1 MB/
	),
	refused(
		'a header of 300 kB',
		text(`Time,${'x'.repeat(300_000)},RPM\n${rows(20)}\n`),
		/no line ends|no header/
	),
	refused(
		'long form with 2000 channels',
		text(`time,channel,value\n${rows(2000, (i) => `${i},ch${i},1`)}\n`),
		/more than 1000 different channels/
	),
	refused(
		'JSON Lines with 1001 keys',
		text(`{${many(1001, (i) => `"k${i}":1`)}}\n{"a":1}\n`),
		/more than 1000 different keys/
	),
	refused(
		'JSON Lines of one 2 MB line',
		text(`{"time":0,"rpm":1}\n{"time":1,"x":"${'y'.repeat(2e6)}"}\n`),
		/longer than 1 MB/
	),
	// Archives
	refused(
		'gzip cut in the middle',
		() => gzipSync(strToU8(good(4000))).subarray(0, 3000),
		/gzip file is damaged or ends early/
	),
	refused(
		'gzip with a turned bit',
		() => {
			const g = gzipSync(strToU8(good(4000)));
			g.set([g[2000]! ^ 0xff, g[2001]! ^ 0xff], 2000);
			return g;
		},
		/gzip file is damaged|header|columns|cells|binary|longer/
	),
	refused('gzip of nothing', () => gzipSync(new Uint8Array(0)), /empty/),
	refused(
		'gzip that unpacks to far more',
		() => gzipSync(new Uint8Array(80e6), { level: 9 }),
		/unpacks to far more|binary/
	),
	refused('gzip inside gzip', () => gzipSync(gzipSync(strToU8(good()))), /archive inside an archive/),
	refused('zip cut in the middle', () => zipSync({ 'a.csv': strToU8(good(4000)) }).subarray(0, 2000), /zip/),
	refused('zip without a file', () => zipSync({}), /zip holds no file|no line|no columns|binary/),
	refused(
		'zip of two logs',
		() => zipSync({ 'a.csv': strToU8(good()), 'b.csv': strToU8(good()) }),
		/more than one file/
	),
	refused(
		'zip inside zip',
		() => zipSync({ 'a.zip': zipSync({ 'a.csv': strToU8(good()) }) }),
		/archive inside an archive/
	),
	refused(
		'zip that unpacks to far more',
		() => zipSync({ 'a.csv': new Uint8Array(80e6) }, { level: 9 }),
		/unpacks to far more|binary/
	),
	refused(
		'zip of a gzip',
		() => zipSync({ 'a.csv.gz': gzipSync(strToU8(good())) }),
		/archive inside an archive/
	),
	harmless('zip whose name climbs out of its folder', () =>
		zipSync({ '../../../../etc/passwd': strToU8(good()) })
	),
	harmless('zip with an absolute name', () => zipSync({ '/tmp/tanto-nasty.csv': strToU8(good()) })),
	// Encodings
	refused('UTF-16 cut within a letter', () => utf16(`${HEAD}\n`, 1), /no row of data|no columns/),
	harmless('UTF-16 with half a pair', () => utf16(good().replace('Engine', '\ud800Engine'))),
	harmless('bytes that are no UTF-8 in the header', () => {
		const b = strToU8(good());
		b.set([0xff, 0xfe], 10);
		return b;
	}),
	// JSON Lines and Parquet
	refused(
		'JSON Lines with a broken line',
		text('{"time":0,"rpm":900}\n{"time":1,"rpm":\n'),
		/line 2: no valid JSON/
	),
	refused(
		'JSON Lines with a list',
		text('{"time":0,"rpm":900}\n[1,2]\n'),
		/line 2: every line has to be one object/
	),
	refused('JSON Lines of empty objects', text('{}\n{}\n'), /time|no row|columns/),
	harmless(
		'JSON Lines with the keys of a prototype',
		text(
			`${Array.from({ length: 30 }, (_, i) => `{"time":${i},"rpm":900,"map":50,"__proto__":{"polluted":1},"constructor":5}`).join('\n')}\n`
		)
	),
	refused(
		'Parquet cut in the middle',
		() => parquet([{ name: 'time', data: [1, 2, 3], type: 'DOUBLE' }]).subarray(0, 40),
		/Parquet/
	),
	refused(
		'Parquet without a row',
		() => parquet([{ name: 'time', data: [], type: 'DOUBLE' }]),
		/no row of data|Parquet/
	),
	// Names and values that mean something elsewhere
	harmless(
		'cells and names that begin a formula',
		text(`Time,=cmd|' /C calc'!A0,Engine Speed (rpm),@SUM(1)\n${rows(40, (i) => `${i / 10},=1+1,900,+3`)}\n`)
	),
	harmless(
		'markup in names',
		text(
			`Time,<script>alert(1)</script>,Engine Speed (rpm),"<img src=x onerror=alert(1)>"\n${rows(40, (i) => `${i / 10},1,900,2`)}\n`
		)
	),
	harmless(
		'names of a prototype',
		text(
			`Time,__proto__,constructor,toString,Engine Speed (rpm)\n${rows(40, (i) => `${i / 10},1,2,3,900`)}\n`
		)
	),
	harmless(
		'the same name forty times',
		text(
			`Time,${many(40, () => 'Engine Speed (rpm)')}\n${rows(40, (i) => `${i / 10},${many(40, () => '900')}`)}\n`
		)
	),
	harmless('numbers beyond all bounds', text(`${HEAD}\n${rows(40, (i) => `${i / 10},1e308,-1e308`)}\n`)),
	harmless(
		'infinities and not-a-numbers',
		text(`${HEAD}\n${rows(40, (i) => `${i / 10},${i % 2 ? 'inf' : 'NaN'},${900 + i}`)}\n`)
	),
	harmless('time runs backwards', text(`${HEAD}\n${rows(60, (i) => `${(60 - i) / 10},1000,50`)}\n`)),
	harmless('time stands still', text(`${HEAD}\n${rows(60, () => '1,1000,50')}\n`))
];
