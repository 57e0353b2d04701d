/** Logs out: canonical ids as headers, `time` in seconds from 0 first, empty where nothing was recorded. */
import { parquetWriteBuffer } from 'hyparquet-writer';
import type { Log } from './log.ts';
import { outColumns, type OutColumn } from './select.ts';

const ROWS_PER_PIECE = 2000;
/** Digits that survive 32-bit storage. */
const DIGITS = 7;

const canonical = (log: Log): OutColumn[] => outColumns(log, null);

/** All moments at which any channel has a sample, ascending, each once. */
function moments(columns: readonly OutColumn[]): Float64Array {
	const axes = [...new Set(columns.map((c) => c.timeS))];
	if (axes.length === 0) return new Float64Array(0);
	if (axes.length === 1) return axes[0]!;
	const all = new Float64Array(axes.reduce((n, a) => n + a.length, 0));
	let at = 0;
	for (const a of axes) {
		all.set(a, at);
		at += a.length;
	}
	all.sort();
	let n = 0;
	for (let i = 0; i < all.length; i++) if (i === 0 || all[i]! > all[n - 1]!) all[n++] = all[i]!;
	return all.subarray(0, n);
}

/** Walks the rows; the value of a channel is NaN where it has no sample at that very moment. */
function* rows(columns: readonly OutColumn[]): Generator<{ t: number; values: Float64Array }> {
	const times = moments(columns);
	const next = new Int32Array(columns.length);
	const values = new Float64Array(columns.length);
	for (const t of times) {
		for (let c = 0; c < columns.length; c++) {
			const channel = columns[c]!;
			const i = next[c]!;
			const here = i < channel.timeS.length && channel.timeS[i] === t;
			values[c] = here ? channel.values[i]! : Number.NaN;
			if (here) next[c]!++;
		}
		yield { t, values };
	}
}

function text(v: number): string {
	return v === v ? String(Number(v.toPrecision(DIGITS))) : '';
}

function seconds(t: number): string {
	return String(Math.round(t * 1e6) / 1e6);
}

/** Canonical CSV in pieces. */
export function* csvOf(log: Log, columns = canonical(log)): Generator<string> {
	yield `${['time', ...columns.map((c) => c.header)].join(',')}\n`;
	let piece: string[] = [];
	for (const { t, values } of rows(columns)) {
		piece.push(`${seconds(t)},${Array.from(values, text).join(',')}\n`);
		if (piece.length === ROWS_PER_PIECE) {
			yield piece.join('');
			piece = [];
		}
	}
	yield piece.join('');
}

/** JSON Lines in pieces: one object a row, without the keys that have nothing there. */
export function* jsonLinesOf(log: Log, columns = canonical(log)): Generator<string> {
	let piece: string[] = [];
	for (const { t, values } of rows(columns)) {
		const row: Record<string, number> = { time: Number(seconds(t)) };
		columns.forEach((c, k) => {
			if (values[k] === values[k]) row[c.header] = Number(values[k]!.toPrecision(DIGITS));
		});
		piece.push(`${JSON.stringify(row)}\n`);
		if (piece.length === ROWS_PER_PIECE) {
			yield piece.join('');
			piece = [];
		}
	}
	yield piece.join('');
}

/** Parquet with one column a channel: time in 64 bits, values in 32. */
export function parquetOf(log: Log, columns = canonical(log)): Uint8Array {
	const times = moments(columns);
	const data = columns.map(() => new Array<number | null>(times.length));
	let r = 0;
	for (const { values } of rows(columns)) {
		for (let c = 0; c < data.length; c++) data[c]![r] = values[c] === values[c] ? values[c]! : null;
		r++;
	}
	return new Uint8Array(
		parquetWriteBuffer({
			columnData: [
				{ name: 'time', data: times, type: 'DOUBLE' },
				...columns.map((c, k) => ({
					name: c.header,
					data: data[k]!,
					type: 'FLOAT' as const,
					nullable: true
				}))
			]
		})
	);
}

/** Ways out, by the name that commands and addresses use. */
export const OUT_FORMATS = {
	csv: { extension: 'csv', type: 'text/csv', pieces: csvOf },
	jsonl: { extension: 'jsonl', type: 'application/jsonl', pieces: jsonLinesOf },
	parquet: {
		extension: 'parquet',
		type: 'application/vnd.apache.parquet',
		pieces: (log: Log, columns?: OutColumn[]): Iterable<string | Uint8Array> => [parquetOf(log, columns)]
	}
} as const;

export type OutFormat = keyof typeof OUT_FORMATS;
