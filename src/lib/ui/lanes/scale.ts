/** How far the scale of a lane reaches, which figures stand at it, and which along the common axis. */
import { clock } from '../time';
import type { Lane, Series } from './types';

/** What lanes stand over. */
export interface Axis {
	title: string;
	/** Distances of figures, narrowest first. */
	steps: readonly number[];
	/** A place on the axis in words, where `span` of it is in sight. */
	text: (v: number, span: number) => string;
}

export const TIME: Axis = {
	title: 'Time',
	steps: [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600],
	text: (v, span) => clock(v, span < 20)
};
export const ENGINE_SPEED: Axis = {
	title: 'Engine speed, rpm',
	steps: [100, 250, 500, 1000, 2000],
	text: (v) => String(Math.round(v))
};
export const ETHANOL: Axis = {
	title: 'Ethanol, %',
	steps: [10, 20, 50],
	text: (v) => String(Math.round(v))
};
export const LOG_NUMBER: Axis = {
	title: 'Log',
	steps: [1, 2, 5, 10, 50],
	text: (v) => String(Math.round(v))
};

const MOST_FIGURES = 10;

/** Figures along the axis between two places: by the narrowest step that doesn't crowd them. */
export function axisFigures({ steps }: Axis, from: number, to: number): number[] {
	if (!(to >= from) || !Number.isFinite(to - from)) return [];
	const step = steps.find((s) => (to - from) / s <= MOST_FIGURES) ?? steps.at(-1)!;
	const first = Math.ceil(from / step - 1e-9);
	const count = Math.max(0, Math.floor(to / step + 1e-9) - first + 1);
	return Array.from({ length: count }, (_, i) => (first + i) * step);
}

/** Share of a lane's span that stays free above and below. */
const AIR = 0.08;
const FLOOR_AIR = 0.04;

/** Least and greatest of what a lane shows between `from` and `to` of the common axis, with air around it. */
export function valueRange(lane: Lane, from: number, to: number): { min: number; max: number } {
	let low = Infinity;
	let high = -Infinity;
	for (const s of lane.series)
		for (let i = 0; i < s.x.length; i++) {
			if (s.x[i]! < from || s.x[i]! > to) continue;
			const a = s.y[i];
			const z = s.yMax ? s.yMax[i] : a;
			if (a !== null && a !== undefined && a < low) low = a;
			if (z !== null && z !== undefined && z > high) high = z;
		}
	if (lane.ceiling !== undefined) {
		low = Math.min(low, lane.ceiling);
		high = Math.min(high, lane.ceiling);
	}
	if (!(high >= low)) return { min: 0, max: 1 };
	const { floor, minSpan = 0 } = lane;
	const span = Math.max(high - low, minSpan, 1e-6);
	const middle = (high + low) / 2;
	const bottom = middle - span * (0.5 + AIR);
	// What has no negative side stands on its floor where it would come near it, and where its least span holds everything.
	if (floor !== undefined && low >= floor && (bottom < floor || high <= floor + minSpan))
		return { min: floor - span * FLOOR_AIR, max: Math.max(high, floor + span) + span * AIR };
	return { min: bottom, max: middle + span * (0.5 + AIR) };
}

/** Stretches of the common axis where a series goes over the top of its scale, for a mark at the edge: what is cut off isn't kept quiet. */
export function overScale(series: Series, top: number): { from: number; to: number }[] {
	const out: { from: number; to: number }[] = [];
	let from: number | null = null;
	for (let i = 0; i < series.x.length; i++) {
		const v = (series.yMax ?? series.y)[i];
		const over = v !== null && v !== undefined && v > top;
		if (over) from ??= series.x[i]!;
		else if (from !== null) {
			out.push({ from, to: series.x[i]! });
			from = null;
		}
	}
	if (from !== null) out.push({ from, to: series.x.at(-1)! });
	return out;
}

/** Figures of a scale: the widest round step that shows two of them. One figure is no scale, and a lane has room for five. */
export function figures(low: number, high: number): number[] {
	const decade = 10 ** Math.ceil(Math.log10(high - low));
	for (const share of [1, 0.5, 0.2, 0.1, 0.05]) {
		const step = share * decade;
		const first = Math.ceil(low / step);
		const count = Math.floor(high / step) - first + 1;
		if (count >= 2) return Array.from({ length: count }, (_, i) => (first + i) * step);
	}
	return [];
}

/** Value of a series nearest to a place on its axis; the middle of its bucket where it is thinned. */
export function valueAt(s: Series, at: number): number | null {
	let low = 0;
	let high = s.x.length;
	while (low < high) {
		const mid = (low + high) >> 1;
		if (s.x[mid]! < at) low = mid + 1;
		else high = mid;
	}
	const k = low > 0 && (low === s.x.length || at - s.x[low - 1]! < s.x[low]! - at) ? low - 1 : low;
	const y = s.y[k];
	if (y === null || y === undefined) return null;
	const top = s.yMax?.[k];
	return top === null || top === undefined ? y : (y + top) / 2;
}

const drawn = new WeakMap<Series, { x: number; y: number }[]>();

/** Points of a series, made once: zooming moves the scale over the same points. */
export function points(s: Series): { x: number; y: number }[] {
	const have = drawn.get(s);
	if (have) return have;
	const out: { x: number; y: number }[] = [];
	drawn.set(s, out);
	for (let i = 0; i < s.x.length; i++) {
		const low = s.y[i];
		out.push({ x: s.x[i]!, y: low ?? Number.NaN });
		// Up and down within a bucket draws the whole span that the samples took.
		if (s.yMax) out.push({ x: s.x[i]!, y: s.yMax[i] ?? Number.NaN });
	}
	return out;
}
