/** Drives laid over a map of cells: which breakpoints they run over. */

/** A drive by the values of the map's axes. */
export interface Drive {
	name: string;
	x: readonly [number, number];
	y: readonly [number, number];
}

/** The same by columns and rows, both ends included. */
export interface Laid {
	name: string;
	x: [number, number];
	y: [number, number];
}

/** The nearest breakpoints of both ends of a span, the lower first; the ends of the axis for what lies beyond it. */
export function touched(points: readonly number[], [from, to]: readonly [number, number]): [number, number] {
	const near = (v: number) =>
		points.reduce((best, p, i) => (Math.abs(p - v) < Math.abs(points[best]! - v) ? i : best), 0);
	const [a, b] = [near(from), near(to)];
	return a <= b ? [a, b] : [b, a];
}

export const laidOver = (drives: readonly Drive[], x: readonly number[], y: readonly number[]): Laid[] =>
	drives.map((d) => ({ name: d.name, x: touched(x, d.x), y: touched(y, d.y) }));

/** Those that run over a cell. */
export const over = (laid: readonly Laid[], row: number, column: number): Laid[] =>
	laid.filter((d) => column >= d.x[0] && column <= d.x[1] && row >= d.y[0] && row <= d.y[1]);
