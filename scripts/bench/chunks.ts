/** A file in pieces of 1 MB, from one buffer that is filled again and again. */
import { closeSync, openSync, readSync } from 'node:fs';

export function* chunksOf(file: string): Generator<Uint8Array> {
	const fd = openSync(file, 'r');
	const buffer = Buffer.alloc(1 << 20);
	for (;;) {
		const n = readSync(fd, buffer, 0, buffer.length, null);
		if (n === 0) break;
		yield buffer.subarray(0, n);
	}
	closeSync(fd);
}

/** Highest resident memory of this process so far, MB. */
export function peakMb(): number {
	return process.resourceUsage().maxRSS / 1024;
}
