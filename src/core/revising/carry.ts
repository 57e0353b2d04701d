/**
 * Carries proven changes into neighbouring cells that weren't visited: a harmonic fill (every open cell is the mean of its neighbours)
 * between the proven cells and zero, which it reaches beyond two cells away.
 */
const REACH = 2;
const SWEEPS = 200;
const ENOUGH = 1e-6;

/**
 * @param fixed change per cell, row by row; NaN where nothing was proven
 * @returns the change of every cell within reach, NaN beyond
 */
export function carry(fixed: Float64Array, nx: number, ny: number): Float64Array {
	const out = fixed.slice();
	const open: number[] = [];
	for (let c = 0; c < out.length; c++) {
		if (fixed[c] === fixed[c]) continue;
		if (distance(fixed, nx, ny, c) <= REACH) {
			open.push(c);
			out[c] = 0;
		}
	}
	for (let sweep = 0; sweep < SWEEPS; sweep++) {
		let moved = 0;
		for (const c of open) {
			const x = c % nx;
			const y = (c - x) / nx;
			let sum = 0;
			let n = 0;
			// Beyond reach counts as zero; beyond the edge of the table as no neighbour at all.
			const add = (k: number) => {
				sum += out[k] === out[k] ? out[k]! : 0;
				n++;
			};
			if (x > 0) add(c - 1);
			if (x + 1 < nx) add(c + 1);
			if (y > 0) add(c - nx);
			if (y + 1 < ny) add(c + nx);
			const next = n ? sum / n : 0;
			moved = Math.max(moved, Math.abs(next - out[c]!));
			out[c] = next;
		}
		if (moved < ENOUGH) break;
	}
	return out;
}

/** Steps (diagonals count as one) to the nearest proven cell, at most REACH + 1. */
function distance(fixed: Float64Array, nx: number, ny: number, c: number): number {
	const x = c % nx;
	const y = (c - x) / nx;
	let best = REACH + 1;
	for (let dy = -REACH; dy <= REACH; dy++) {
		for (let dx = -REACH; dx <= REACH; dx++) {
			const px = x + dx;
			const py = y + dy;
			if (px < 0 || py < 0 || px >= nx || py >= ny) continue;
			const v = fixed[py * nx + px]!;
			if (v === v) best = Math.min(best, Math.max(Math.abs(dx), Math.abs(dy)));
		}
	}
	return best;
}
