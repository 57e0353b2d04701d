/** The whole path from the bytes of a log, as they were sent, to canonical columns. */
import { InputError } from '../input-error.ts';
import { containerOf, Unpacker } from './bytes.ts';
import { logFromTable, type Log, type ReadContext } from './log.ts';
import { readParquet } from './parquet.ts';
import { TableReader } from './table.ts';

/**
 * Reads a text export (packed or not).
 * @param chunks the file in order, in pieces of any size
 */
export function readLog(chunks: Iterable<Uint8Array>, context: ReadContext): Log {
	const reader = new TableReader(context.hint, context.layouts);
	const unpacker = new Unpacker((chunk) => reader.push(chunk), context.bytes);
	for (const chunk of chunks) unpacker.push(chunk);
	unpacker.end();
	return logFromTable(reader.finish(), context);
}

/** Largest Parquet file that is taken into memory; text is read in pieces and has no such limit. */
const MAX_PARQUET_BYTES = 512 << 20;

/** Reads a text export or a Parquet file. */
export async function readLogAsync(chunks: AsyncIterable<Uint8Array>, context: ReadContext): Promise<Log> {
	const reader = new TableReader(context.hint, context.layouts);
	const unpacker = new Unpacker((chunk) => reader.push(chunk), context.bytes);
	let whole: Uint8Array[] | null = null;
	let bytes = 0;
	for await (const chunk of chunks) {
		if (bytes === 0 && containerOf(chunk) === 'parquet') whole = [];
		bytes += chunk.length;
		if (!whole) unpacker.push(chunk);
		else if (bytes > MAX_PARQUET_BYTES)
			throw new InputError(`a Parquet file of more than ${MAX_PARQUET_BYTES >> 20} MB; send it as text`);
		else whole.push(new Uint8Array(chunk));
	}
	if (whole) return logFromTable(await readParquet(whole, bytes, context.hint, context.layouts), context);
	unpacker.end();
	return logFromTable(reader.finish(), context);
}
