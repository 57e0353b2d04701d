/** What the car was doing at the moments of a file, and what its columns say there. */
import type { Recognised } from './reading.ts';

/** Values of columns at the same moments, as written in the file; NaN where a column has none. */
export interface Moments {
	count: number;
	raw(column: number): Float64Array;
}

const FEWEST = 5;

/** What the car was doing at the moments, and values of a channel there. */
export class Scene {
	readonly standing: number[] = [];
	readonly idling: number[] = [];
	/** Throttle open, engine in the upper half of its speeds: a charger has had its chance. */
	readonly full: number[] = [];

	constructor(
		private readonly found: readonly (Recognised | null)[],
		private readonly moments: Moments
	) {
		const rpm = this.values('rpm');
		if (!rpm) return;
		const throttle = this.values('pedal') ?? this.values('tps');
		const speed = this.values('speed');
		let top = 0;
		let least = Infinity;
		for (let i = 0; i < moments.count; i++) {
			if (rpm[i]! > top) top = rpm[i]!;
			if (throttle && throttle[i]! < least) least = throttle[i]!;
		}
		for (let i = 0; i < moments.count; i++) {
			const closed = throttle !== null && throttle[i]! <= Math.min(12, least) + 3;
			if (rpm[i]! < 200 && !(speed && speed[i]! >= 1)) this.standing.push(i);
			else if (rpm[i]! > 450 && rpm[i]! < 1300 && closed && !(speed && speed[i]! >= 3)) this.idling.push(i);
			else if (throttle && throttle[i]! >= 90 && rpm[i]! > top * 0.6) this.full.push(i);
		}
	}

	column(channel: string): number {
		return this.found.findIndex((r) => r?.channel === channel);
	}

	/** Values of a channel in its canonical unit, by its present reading. */
	values(channel: string): Float64Array | null {
		const at = this.column(channel);
		if (at < 0) return null;
		const { scale, offset } = this.found[at]!.conversion;
		return this.moments.raw(at).map((v) => scale * v + offset);
	}

	raw(column: number): Float64Array {
		return this.moments.raw(column);
	}
}

/** Median of `values` at the moments `at`; NaN with fewer than five. */
export function middle(values: Float64Array, at: readonly number[] | null): number {
	const list: number[] = [];
	if (at) for (const i of at) if (values[i] === values[i]) list.push(values[i]!);
	if (!at) for (const v of values) if (v === v) list.push(v);
	if (list.length < FEWEST) return Number.NaN;
	return list.sort((a, b) => a - b)[list.length >> 1]!;
}
