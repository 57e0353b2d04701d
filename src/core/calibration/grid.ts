/** Two axes and where a value falls between their points. */

/** Position of a value on an axis: between point `i` and `i + 1`, `t` of the way; held at the ends. */
export interface Place {
	i: number;
	t: number;
}

/** The same for every sample of a column. */
export interface ColumnPlaces {
	/** Index of the point below. */
	at: Uint16Array;
	/** Share of the way to the next point; NaN where the column has no value. */
	t: Float64Array;
}

/**
 * Finds places on an ascending axis fast: a lookup table over the span of the axis narrows the search to a step or two.
 * Reuses one result object; read it before the next call.
 */
export class AxisFinder {
	readonly points: Float64Array;
	readonly length: number;
	private readonly table: Int32Array;
	private readonly low: number;
	private readonly perSlot: number;
	private readonly place: Place = { i: 0, t: 0 };

	constructor(points: readonly number[]) {
		this.points = Float64Array.from(points);
		this.length = points.length;
		this.low = points[0] ?? 0;
		const span = (points[points.length - 1] ?? 0) - this.low;
		const slots = Math.max(1, Math.min(1024, points.length * 8));
		this.perSlot = span > 0 ? slots / span : 0;
		this.table = new Int32Array(slots + 1);
		let i = 0;
		for (let s = 0; s <= slots; s++) {
			const v = this.low + (this.perSlot > 0 ? s / this.perSlot : 0);
			while (i + 2 < points.length && points[i + 1]! <= v) i++;
			this.table[s] = i;
		}
	}

	/** Place of `v`; values beyond the ends are held there. */
	find(v: number): Place {
		const { points, place, length } = this;
		if (length < 2 || v <= this.low) {
			place.i = 0;
			place.t = 0;
			return place;
		}
		if (v >= points[length - 1]!) {
			place.i = length - 2;
			place.t = 1;
			return place;
		}
		let i = this.table[Math.floor((v - this.low) * this.perSlot)]!;
		while (i > 0 && points[i]! > v) i--;
		while (i + 2 < length && points[i + 1]! <= v) i++;
		place.i = i;
		place.t = (v - points[i]!) / (points[i + 1]! - points[i]!);
		return place;
	}

	/** Places of all values of a column; `t` is NaN where there is no value. */
	along(values: Float32Array): ColumnPlaces {
		const out = { at: new Uint16Array(values.length), t: new Float64Array(values.length) };
		for (let k = 0; k < values.length; k++) {
			const v = values[k]!;
			if (v !== v) {
				out.t[k] = Number.NaN;
				continue;
			}
			const { i, t } = this.find(v);
			out.at[k] = i;
			out.t[k] = t;
		}
		return out;
	}

	/** Index of the point nearest to `v`. */
	nearest(v: number): number {
		const { i, t } = this.find(v);
		return this.length < 2 ? 0 : t < 0.5 ? i : i + 1;
	}
}

/** Value of a curve at `x`: linear between points, held at the ends. */
export function interpolateCurve(points: readonly number[], values: readonly number[], x: number): number {
	const { i, t } = new AxisFinder(points).find(x);
	const a = values[i] ?? Number.NaN;
	return t === 0 ? a : a + (values[i + 1]! - a) * t;
}

/** A table ready for many look-ups: bilinear between points, held at the edges. */
export class Surface {
	readonly x: AxisFinder;
	readonly y: AxisFinder;
	private readonly flat: Float64Array;

	/** @param values one row per y point, one value per x point */
	constructor(x: readonly number[], y: readonly number[], values: readonly (readonly number[])[]) {
		this.x = new AxisFinder(x);
		this.y = new AxisFinder(y);
		this.flat = new Float64Array(x.length * y.length);
		values.forEach((row, r) => this.flat.set(row, r * x.length));
	}

	/** Values along two columns, of which the places on this table's axes are known; NaN where one of them has no value. */
	along(px: ColumnPlaces, py: ColumnPlaces): Float32Array {
		const { flat } = this;
		const nx = this.x.length;
		const out = new Float32Array(px.at.length);
		for (let k = 0; k < out.length; k++) {
			const tx = px.t[k]!;
			const ty = py.t[k]!;
			const row0 = py.at[k]! * nx + px.at[k]!;
			const a = flat[row0]!;
			const low = tx === 0 ? a : a + (flat[row0 + 1]! - a) * tx;
			if (ty === 0) {
				out[k] = low;
				continue;
			}
			// Without a value its share is NaN, and so is what comes of it; the neighbour that is read then may lie beyond the table.
			const b = flat[row0 + nx]!;
			const high = tx === 0 ? b : b + (flat[row0 + nx + 1]! - b) * tx;
			out[k] = low + (high - low) * ty;
		}
		return out;
	}

	at(x: number, y: number): number {
		const nx = this.x.length;
		const px = this.x.find(x);
		const i = px.i;
		const tx = px.t;
		const { i: j, t: ty } = this.y.find(y);
		const row0 = j * nx + i;
		const a = this.flat[row0]!;
		const low = tx === 0 ? a : a + (this.flat[row0 + 1]! - a) * tx;
		if (ty === 0) return low;
		const b = this.flat[row0 + nx]!;
		const high = tx === 0 ? b : b + (this.flat[row0 + nx + 1]! - b) * tx;
		return low + (high - low) * ty;
	}
}

export interface CellAxes {
	xChannel: string;
	/** Unit of the points; the canonical one of the channel when missing. */
	xUnit?: string | undefined;
	x: number[];
	yChannel: string;
	yUnit?: string | undefined;
	y: number[];
}

/** Cells for a log whose calibration isn't known: 500 rpm by 20 kPa. */
export function defaultAxes(maxRpm: number, maxKpa: number): CellAxes {
	const steps = (from: number, to: number, by: number) =>
		Array.from({ length: Math.max(2, Math.ceil((to - from) / by) + 1) }, (_, i) => from + i * by);
	return {
		xChannel: 'rpm',
		x: steps(500, Math.max(1000, maxRpm), 500),
		yChannel: 'map',
		y: steps(20, Math.max(100, maxKpa), 20)
	};
}
