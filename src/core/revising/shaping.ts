/** Shaping a block of cells by hand: filled between its corners, smoothed within a tolerance, blended into its surroundings. */

/** A rectangle of a table: columns and rows by index, ends included. */
export interface Block {
	c0: number;
	c1: number;
	r0: number;
	r1: number;
}

export type Values = readonly (readonly number[])[];

const copy = (values: Values): number[][] => values.map((row) => [...row]);

/**
 * The block filled between its four corners, by the axes' own values: on uneven axes a straight line stays straight.
 * One row or one column is filled between its two ends.
 */
export function filled(values: Values, x: readonly number[], y: readonly number[], b: Block): number[][] {
	const out = copy(values);
	const share = (axis: readonly number[], i: number, from: number, to: number) =>
		to === from ? 0 : (axis[i]! - axis[from]!) / (axis[to]! - axis[from]!);
	const at = (r: number, c: number) => values[r]![c]!;
	for (let r = b.r0; r <= b.r1; r++)
		for (let c = b.c0; c <= b.c1; c++) {
			const tx = share(x, c, b.c0, b.c1);
			const ty = share(y, r, b.r0, b.r1);
			const low = at(b.r0, b.c0) * (1 - tx) + at(b.r0, b.c1) * tx;
			const high = at(b.r1, b.c0) * (1 - tx) + at(b.r1, b.c1) * tx;
			out[r]![c] = low * (1 - ty) + high * ty;
		}
	return out;
}

/** Passes of the smoothing; more change little. */
const PASSES = 3;

/**
 * The block smoothed: every cell drawn towards the mean of itself and its neighbours (those outside the block hold it), but never by
 * more than `tolerancePct` of its value: lumps go, the shape stays.
 */
export function smoothed(values: Values, b: Block, tolerancePct: number): number[][] {
	const ny = values.length;
	const nx = values[0]?.length ?? 0;
	let now = copy(values);
	for (let pass = 0; pass < PASSES; pass++) {
		const next = copy(now);
		for (let r = b.r0; r <= b.r1; r++)
			for (let c = b.c0; c <= b.c1; c++) {
				let sum = now[r]![c]! * 2;
				let n = 2;
				for (const [dr, dc] of [
					[-1, 0],
					[1, 0],
					[0, -1],
					[0, 1]
				] as const) {
					const rr = r + dr;
					const cc = c + dc;
					if (rr < 0 || cc < 0 || rr >= ny || cc >= nx) continue;
					sum += now[rr]![cc]!;
					n++;
				}
				const old = values[r]![c]!;
				const most = (Math.abs(old) * tolerancePct) / 100;
				next[r]![c] = Math.min(old + most, Math.max(old - most, sum / n));
			}
		now = next;
	}
	return now;
}

/** The ring of cells around the block taken half the way to what the block asks of them; the block itself stays. */
export function blended(values: Values, before: Values, b: Block): number[][] {
	const out = copy(values);
	const ny = values.length;
	const nx = values[0]?.length ?? 0;
	const inside = (r: number, c: number) => r >= b.r0 && r <= b.r1 && c >= b.c0 && c <= b.c1;
	for (let r = Math.max(0, b.r0 - 1); r <= Math.min(ny - 1, b.r1 + 1); r++)
		for (let c = Math.max(0, b.c0 - 1); c <= Math.min(nx - 1, b.c1 + 1); c++) {
			if (inside(r, c)) continue;
			const rr = Math.min(b.r1, Math.max(b.r0, r));
			const cc = Math.min(b.c1, Math.max(b.c0, c));
			const share = before[rr]![cc] ? values[rr]![cc]! / before[rr]![cc]! - 1 : 0;
			out[r]![c] = values[r]![c]! * (1 + share / 2);
		}
	return out;
}
