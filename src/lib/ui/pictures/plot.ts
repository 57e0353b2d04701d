/** Geometry of the small pictures of pages: scales, lines with gaps, the area between two lines. Shapes in pixels, values in units as shown. */
import { extent, ticks } from 'd3-array';

export interface PlotLine {
	label: string;
	/** Positions along the axis, ascending, one per value. */
	x: readonly number[];
	y: readonly (number | null)[];
	/** What was asked for, beside what came. */
	dashed?: boolean;
}

export interface Scale {
	from: number;
	to: number;
	/** Pixel of a value. */
	at: (v: number) => number;
}

/** A linear scale from values to pixels; a span of nothing stands in its middle. */
export function scaleOf(from: number, to: number, low: number, high: number): Scale {
	const span = to - from;
	return { from, to, at: (v) => (span === 0 ? (low + high) / 2 : low + ((v - from) / span) * (high - low)) };
}

/** Room above and below the values, as a share of their span. */
const AIR = 0.12;

/**
 * Least and greatest of all lines with some air, at least `leastSpan` apart, so that noise doesn't fill the picture.
 * @returns null without a single value
 */
export function rangeOf(lines: readonly PlotLine[], leastSpan: number): [number, number] | null {
	const [low, high] = extent(lines.flatMap((l) => l.y.filter((v) => v !== null)));
	if (low === undefined) return null;
	const span = Math.max(high - low, leastSpan);
	const middle = (low + high) / 2;
	return [middle - span * (0.5 + AIR), middle + span * (0.5 + AIR)];
}

/** Two to three round figures of a scale. */
export const figuresOf = (from: number, to: number): number[] => ticks(from, to, 2);

const round = (v: number) => Math.round(v * 10) / 10;

/** An SVG path through the values; null leaves a gap, and a lone value between two gaps is a short stroke. */
export function pathOf({ x, y }: Pick<PlotLine, 'x' | 'y'>, sx: Scale, sy: Scale): string {
	let out = '';
	let open = false;
	y.forEach((v, i) => {
		if (v === null) {
			open = false;
			return;
		}
		const [px, py] = [round(sx.at(x[i]!)), round(sy.at(v))];
		out += open ? `L${px} ${py}` : `M${px} ${py}`;
		if (!open && (y[i + 1] ?? null) === null) out += `h2`;
		open = true;
	});
	return out;
}

/** The area between two lines from one place of the axis to another, as an SVG path; empty where either has no values there. */
export function areaOf(a: PlotLine, b: PlotLine, from: number, to: number, sx: Scale, sy: Scale): string {
	const top: string[] = [];
	const bottom: string[] = [];
	a.x.forEach((x, i) => {
		const [va, vb] = [a.y[i] ?? null, b.y[i] ?? null];
		if (x < from || x > to || va === null || vb === null) return;
		top.push(`${round(sx.at(x))} ${round(sy.at(va))}`);
		bottom.unshift(`${round(sx.at(x))} ${round(sy.at(vb))}`);
	});
	return top.length < 2 ? '' : `M${[...top, ...bottom].join('L')}Z`;
}
