/** The samples of a pull gathered by engine speed. */
import type { Segment } from './kinds.ts';

export interface RpmBins {
	/** Lower end of each bin, rpm. */
	lows: number[];
	/** Mean per bin; null where nothing was recorded. */
	mean(values: Float32Array): (number | null)[];
	/** Highest value per bin. */
	highest(values: Float32Array): (number | null)[];
}

/** Bins of `widthRpm` from where the pull begins to where it ends. */
export function rpmBins(rpm: Float32Array, pull: Pick<Segment, 'from' | 'to'>, widthRpm: number): RpmBins {
	const low = Math.floor(rpm[pull.from]! / widthRpm);
	const count = Math.max(low + 1, Math.ceil(rpm[pull.to]! / widthRpm)) - low;
	const each = (values: Float32Array, take: (b: number, v: number) => void) => {
		for (let i = pull.from; i <= pull.to; i++) {
			const b = Math.floor(rpm[i]! / widthRpm) - low;
			if (b >= 0 && b < count && values[i] === values[i]) take(b, values[i]!);
		}
	};
	return {
		lows: Array.from({ length: count }, (_, b) => (low + b) * widthRpm),
		mean(values) {
			const sum = new Float64Array(count);
			const n = new Int32Array(count);
			each(values, (b, v) => {
				sum[b]! += v;
				n[b]!++;
			});
			return Array.from(sum, (s, b) => (n[b] ? s / n[b]! : null));
		},
		highest(values) {
			const top = new Float64Array(count).fill(Number.NaN);
			each(values, (b, v) => {
				if (!(v <= top[b]!)) top[b] = v;
			});
			return Array.from(top, (t) => (t === t ? t : null));
		}
	};
}
