/** Reads the same log with uDSV's chunked typed mode into one typed array a column: the fastest library that was found. */
import { inferSchema, initParser } from 'udsv';
import { chunksOf, peakMb } from './chunks.ts';

const file = process.argv[2]!;
const before = peakMb();
const start = performance.now();
const decoder = new TextDecoder();
let parser: ReturnType<typeof initParser> | null = null;
let columns: Float32Array[] = [];
let rows = 0;
function take(batch: unknown[][]): void {
	for (const row of batch) {
		for (let c = 0; c < row.length; c++) columns[c]![rows] = Number(row[c]);
		rows++;
	}
}
for (const bytes of chunksOf(file)) {
	const text = decoder.decode(bytes, { stream: true });
	if (!parser) {
		const schema = inferSchema(text);
		parser = initParser(schema);
		columns = schema.cols.map(() => new Float32Array(1 << 20));
	}
	parser.chunk(text, parser.typedArrs as never, take as never);
}
parser!.end();
const ms = performance.now() - start;
if (rows < 1000) throw new Error('not read');
console.log(JSON.stringify({ ms, peakMb: peakMb() - before }));
