/** Time ranges and operating region of the samples behind a finding. */
import type { Frame } from '../logfile/frame.ts';
import type { Run } from '../stats/runs.ts';
import type { Finding } from './types.ts';

const MAX_RANGES = 50;

export function rangesOf(runs: readonly Run[], timeS: Float64Array): { from: number; to: number }[] {
	return runs.slice(0, MAX_RANGES).map((r) => ({
		from: round(timeS[r.from]!, 3),
		to: round(timeS[r.to]!, 3)
	}));
}

export function regionOf(runs: readonly Run[], frame: Frame): NonNullable<Finding['region']> {
	const region: NonNullable<Finding['region']> = {};
	const rpm = span(runs, frame.get('rpm'), 50);
	const map = span(runs, frame.get('map'), 1);
	if (rpm) region.rpm = rpm;
	if (map) region.map = map;
	return region;
}

function span(runs: readonly Run[], values: Float32Array | null, to: number): [number, number] | null {
	if (!values) return null;
	let low = Infinity;
	let high = -Infinity;
	for (const r of runs)
		for (let i = r.from; i <= r.to; i++) {
			const v = values[i]!;
			if (v < low) low = v;
			if (v > high) high = v;
		}
	return high >= low ? [Math.floor(low / to) * to, Math.ceil(high / to) * to] : null;
}

export function round(v: number, decimals: number): number {
	const f = 10 ** decimals;
	return Math.round(v * f) / f;
}
