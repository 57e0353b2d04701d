/**
 * Minimum and maximum of a channel over ever longer stretches, so that any zoom is drawn from about as many values as there are
 * pixels without losing a spike.
 */

export const PYRAMID_FACTOR = 16;

/** Minimum and maximum in turn: [min0, max0, min1, max1, …]; NaN where a stretch is empty. Level 0 is the samples themselves. */
export type Level = Float32Array;

/** Levels 1 and up: pairs over 16, 256, … samples, until a level is short. */
export function buildPyramid(values: Float32Array): Level[] {
	const levels: Level[] = [];
	let count = values.length;
	let from: Float32Array = values;
	let paired = false;
	while (count > PYRAMID_FACTOR * 4) {
		const n = Math.ceil(count / PYRAMID_FACTOR);
		const level = new Float32Array(2 * n);
		for (let b = 0; b < n; b++) {
			let low = Number.NaN;
			let high = Number.NaN;
			const end = Math.min(count, (b + 1) * PYRAMID_FACTOR);
			for (let i = b * PYRAMID_FACTOR; i < end; i++) {
				const a = paired ? from[2 * i]! : from[i]!;
				const z = paired ? from[2 * i + 1]! : a;
				if (!(a >= low) && a === a) low = a;
				if (!(z <= high) && z === z) high = z;
			}
			level[2 * b] = low;
			level[2 * b + 1] = high;
		}
		levels.push(level);
		from = level;
		count = n;
		paired = true;
	}
	return levels;
}

/** Values of a level from the index `at` on. */
export interface LevelPart {
	values: Level;
	at: number;
}

/** What is drawn: one point a sample (`max` is `null`), or minimum and maximum of each bucket. */
export interface TraceWindow {
	timeS: number[];
	/** `null` where nothing was recorded. */
	min: (number | null)[];
	max: (number | null)[] | null;
}

/** Index of the first sample at or after `t`. */
export function lowerBound(timeS: Float64Array, t: number): number {
	let low = 0;
	let high = timeS.length;
	while (low < high) {
		const mid = (low + high) >> 1;
		if (timeS[mid]! < t) low = mid + 1;
		else high = mid;
	}
	return low;
}

function shortened(v: number): number | null {
	return v === v ? Number(v.toPrecision(6)) : null;
}

/**
 * The window `[fromS, toS]` of a channel in about `points` buckets.
 * @param levelOf reads a part of a level of the pyramid, at least the values from `from` to before `to`, and says where the
 * part begins; only the level that is needed is asked for
 */
export async function window(
	timeS: Float64Array,
	samples: number,
	fromS: number,
	toS: number,
	points: number,
	levelOf: (level: number, from: number, to: number) => Promise<LevelPart>,
	factor: number
): Promise<TraceWindow> {
	// One sample more on each side, so that lines run to the edge.
	const first = Math.max(0, lowerBound(timeS, fromS) - 1);
	const last = Math.min(samples, lowerBound(timeS, toS) + 1);
	const count = last - first;
	const out: TraceWindow = { timeS: [], min: [], max: null };
	if (count <= 0) return out;
	if (count <= points * 2) {
		const part = await levelOf(0, first, last);
		for (let i = first; i < last; i++) {
			out.timeS.push(timeS[i]!);
			out.min.push(shortened(part.values[i - part.at]!));
		}
		return out;
	}
	let level = 0;
	let per = 1;
	while (count / (per * factor) >= points && samples / (per * factor) > factor * 4) {
		level++;
		per *= factor;
	}
	const pairs = level > 0;
	const width = pairs ? 2 : 1;
	const { values, at } = await levelOf(
		level,
		width * Math.floor(first / per),
		width * (Math.floor(last / per) + 2)
	);
	const max: (number | null)[] = [];
	for (let b = 0; b < points; b++) {
		const i0 = Math.floor((first + (count * b) / points) / per);
		// The last one takes what is left of a stretch that the log doesn't fill.
		const end =
			b === points - 1 ? Math.ceil(last / per) : Math.floor((first + (count * (b + 1)) / points) / per);
		const i1 = Math.max(i0 + 1, end);
		let low = Number.NaN;
		let high = Number.NaN;
		for (let i = i0; i < i1; i++) {
			const a = pairs ? values[2 * i - at]! : values[i - at]!;
			const z = pairs ? values[2 * i + 1 - at]! : a;
			if (!(a >= low) && a === a) low = a;
			if (!(z <= high) && z === z) high = z;
		}
		out.timeS.push(timeS[Math.min(samples - 1, Math.floor(first + (count * (b + 0.5)) / points))]!);
		out.min.push(shortened(low));
		max.push(shortened(high));
	}
	out.max = max;
	return out;
}
