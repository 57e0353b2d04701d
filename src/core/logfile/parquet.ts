/** Parquet in: one column a channel, units in brackets allowed. */
import { gunzipSync } from 'fflate';
import { parquetMetadataAsync, parquetRead, type AsyncBuffer } from 'hyparquet';
import { InputError } from '../input-error.ts';
import { parseCell } from './cell.ts';
import { reshape, type FlatColumn, type RawTable } from './reshape.ts';
import { clockOf, NO_CLOCK, splitHeader } from './header.ts';
import type { LayoutHint } from './layout-hint.ts';
import { MAX_COLUMNS } from './sniff.ts';
import { rememberedTime } from './table.ts';

const MAX_ROWS = 20_000_000;

function numeric(v: unknown): number | null {
	if (typeof v === 'number') return v;
	if (typeof v === 'bigint') return Number(v);
	if (typeof v === 'boolean') return v ? 1 : 0;
	if (v instanceof Date) return v.getTime() / 1000;
	if (v === null || v === undefined) return Number.NaN;
	return typeof v === 'string' ? parseCell(v, false) : null;
}

/** @throws InputError when the file is damaged, nested, or packed in a way that isn't read */
export async function readParquet(
	parts: readonly Uint8Array[],
	bytes: number,
	hint: LayoutHint = {},
	remembered: readonly LayoutHint[] = []
): Promise<RawTable> {
	const whole = new Uint8Array(bytes);
	let at = 0;
	for (const p of parts) {
		whole.set(p, at);
		at += p.length;
	}
	const file: AsyncBuffer = {
		byteLength: bytes,
		slice: (from, to) => whole.buffer.slice(from, to ?? bytes)
	};
	try {
		const metadata = await parquetMetadataAsync(file);
		const rows = Number(metadata.num_rows);
		const names = metadata.schema.slice(1).map((s) => s.name);
		if (metadata.schema.some((s, i) => i > 0 && (s.num_children ?? 0) > 0))
			throw new InputError('the Parquet file has nested columns; export one plain column a channel');
		if (names.length > MAX_COLUMNS)
			throw new InputError(`${names.length} columns; at most ${MAX_COLUMNS} are read`);
		if (rows === 0) throw new InputError('there is no row of data');
		if (rows > MAX_ROWS) throw new InputError(`${rows} rows; at most ${MAX_ROWS} are read`);
		const heads = names.map(splitHeader);
		const clocks = clockOf(heads.map((h) => h.name));
		const time =
			hint.time ??
			rememberedTime(
				heads.map((h) => h.name),
				remembered
			);
		const columns = new Map(
			names.map((name, i): [string, FlatColumn] => {
				const head = heads[i]!;
				const wide = clocks[i] !== NO_CLOCK || head.name === time;
				const values = wide ? new Float64Array(rows) : new Float32Array(rows);
				return [name, { ...head, values: values.fill(Number.NaN), texts: [], textCells: 0 }];
			})
		);
		await parquetRead({
			file,
			metadata,
			compressors: { GZIP: (input) => gunzipSync(input) },
			onChunk: ({ columnName, columnData, rowStart }) => {
				const column = columns.get(columnName);
				if (!column) return;
				for (let i = 0; i < columnData.length; i++) {
					const v = numeric(columnData[i]);
					if (v === null) {
						column.textCells++;
						const text = String(columnData[i]).slice(0, 200);
						if (column.texts.length < 64 && !column.texts.includes(text)) column.texts.push(text);
					} else column.values[rowStart + i] = v;
				}
			}
		});
		return reshape({ columns: [...columns.values()], rows, notes: [] }, time);
	} catch (e) {
		if (e instanceof InputError) throw e;
		const why = e instanceof Error && /compress|codec/i.test(e.message) ? ` (${e.message})` : '';
		throw new InputError(
			`the Parquet file is damaged or packed in a way that is not read${why}; export it again`
		);
	}
}
