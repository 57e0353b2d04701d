/** The whole path from the bytes of a text export to canonical columns. */
import { logFromTable, type Log, type ReadContext } from './log.ts';
import { TableReader } from './table.ts';

/** @param chunks the file in order, in pieces of any size */
export function readLog(chunks: Iterable<Uint8Array>, context: ReadContext): Log {
	const reader = new TableReader();
	for (const chunk of chunks) reader.push(chunk);
	return logFromTable(reader.finish(), context);
}

export async function readLogAsync(chunks: AsyncIterable<Uint8Array>, context: ReadContext): Promise<Log> {
	const reader = new TableReader();
	for await (const chunk of chunks) reader.push(chunk);
	return logFromTable(reader.finish(), context);
}
