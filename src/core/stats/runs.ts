/** Contiguous stretches of samples in which something holds. */

/** Samples `from` to `to`, both inside the stretch. */
export interface Run {
	from: number;
	to: number;
}

/** Time that a run covers: every sample stands for its own interval. */
export function runSeconds(run: Run, timeS: Float64Array, stepS: number): number {
	return timeS[run.to]! - timeS[run.from]! + stepS;
}

/** Durations are compared with this much slack, so that 4 samples of 0.05 s are 0.2 s. */
const SLACK_S = 1e-6;

/** The time axis that stretches lie on. */
export interface TimeAxis {
	timeS: Float64Array;
	/** Median step in seconds. */
	stepS: number;
}

/**
 * Stretches of at least `minS` where `test` holds.
 * @param closeS interruptions shorter than this don't end a stretch
 * @param within runs outside of which `test` doesn't hold anywhere and isn't asked; all samples when missing
 */
export function stretches(
	{ timeS, stepS }: TimeAxis,
	minS: number,
	test: (i: number) => boolean,
	closeS = 0,
	within?: readonly Run[]
): Run[] {
	const out: Run[] = [];
	let from = -1;
	let to = -1;
	const end = () => {
		if (from >= 0 && runSeconds({ from, to }, timeS, stepS) >= minS - SLACK_S) out.push({ from, to });
		from = -1;
	};
	for (const run of within ?? [{ from: 0, to: timeS.length - 1 }])
		for (let i = run.from; i <= run.to; i++) {
			if (!test(i)) continue;
			if (from >= 0) {
				const apart = timeS[i]! - timeS[to]!;
				// Interrupted for `closeS` or longer; and a hole in the recording ends a stretch: nobody knows what happened in it.
				const interrupted = i - to > 1 && apart - stepS >= closeS - SLACK_S;
				if (interrupted || apart > Math.max(closeS + stepS * 1.5, stepS * 5)) end();
			}
			if (from < 0) from = i;
			to = i;
		}
	end();
	return out;
}

/**
 * Rate of change per second by a difference over about ±`halfS`, at least the neighbouring samples; NaN where a side is missing.
 * Wider than one sample, so that the steps of a coarse sensor don't look like jumps.
 */
export function slope(values: Float32Array, timeS: Float64Array, halfS: number): Float32Array {
	const n = values.length;
	const out = new Float32Array(n);
	let a = 0;
	let b = 0;
	for (let i = 0; i < n; i++) {
		const t = timeS[i]!;
		while (timeS[a]! < t - halfS) a++;
		if (b < i) b = i;
		while (b + 1 < n && timeS[b + 1]! <= t + halfS) b++;
		const low = Math.min(a, Math.max(0, i - 1));
		const high = Math.max(b, Math.min(n - 1, i + 1));
		const dt = timeS[high]! - timeS[low]!;
		out[i] = dt > 0 ? (values[high]! - values[low]!) / dt : 0;
	}
	return out;
}
