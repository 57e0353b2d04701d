/** Reads a log with the core, whole path from bytes to canonical columns; prints time and memory. */
import { readLog } from '../../src/core/logfile/read.ts';
import { chunksOf, peakMb } from './chunks.ts';

const file = process.argv[2]!;
const before = peakMb();
const start = performance.now();
const log = readLog(chunksOf(file), { gaugeStoich: 14.7, baroKpa: 101.3 });
const ms = performance.now() - start;
if (log.rows < 1000 || log.channels.length < 20) throw new Error('not read');
console.log(JSON.stringify({ ms, peakMb: peakMb() - before }));
