/** Zooms out of a long trace without losing a spike, wherever it stands. */
import { describe, expect, it } from 'vitest';
import { buildPyramid, PYRAMID_FACTOR, window } from './pyramid.ts';

const HZ = 20;
async function drawn(samples: number, spikeAt: number, points = 200) {
	const timeS = Float64Array.from({ length: samples }, (_, i) => i / HZ);
	const values = new Float32Array(samples);
	values[spikeAt] = 9;
	const levels = [values, ...buildPyramid(values)];
	return window(
		timeS,
		samples,
		0,
		samples / HZ,
		points,
		(level, from, to) => Promise.resolve({ values: levels[level]!.subarray(from, to), at: from }),
		PYRAMID_FACTOR
	);
}
const highest = (w: Awaited<ReturnType<typeof drawn>>) => Math.max(...w.max!.map((v) => v ?? 0));

describe('a whole hour in two hundred points', () => {
	const samples = 3600 * HZ + 201;
	it.each([0, 17, samples >> 1, samples - 256, samples - 202, samples - 17, samples - 1])(
		'shows a spike at sample %i',
		async (at) => expect(highest(await drawn(samples, at))).toBe(9)
	);
	it('at any length', async () => {
		for (let more = 0; more < 300; more += 7)
			expect(highest(await drawn(60_000 + more, 60_000 + more - 1)), `${more} more`).toBe(9);
	});
});
