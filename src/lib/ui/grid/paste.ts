/** What a paste into the grid means: by its axes where it has them, else over exactly the cells that are selected. */
import type { CurveItem, MapItem } from '$core/calibration/document';
import { pasteInto } from '$core/calibration/tables/paste-into';
import { fixed } from '$core/format';
import { InputError } from '$core/input-error';
import { parseBlock } from '$core/revising/operations';
import type { Block } from '$core/revising/shaping';
import type { Cell } from './snapshot';

export type Target = Cell & { v: number };

/**
 * @param item as it is now
 * @param shown columns and rows in the order of the screen, and what is selected of them
 * @returns the cells with their values, or why nothing is pasted
 */
export function pasteTargets(
	text: string,
	item: MapItem | CurveItem,
	shown: {
		xs: readonly number[];
		ys: readonly number[];
		box: { c0: number; c1: number; r0: number; r1: number };
	}
): { targets: Target[] } | { problem: string } {
	const { xs, ys, box } = shown;
	const block = parseBlock(text);
	const single = box.c0 === box.c1 && box.r0 === box.r1;
	if (block && block[0]) {
		const [height, width] = [block.length, block[0].length];
		const selected = height === box.r1 - box.r0 + 1 && width === box.c1 - box.c0 + 1;
		const fits = single && box.r0 + height <= ys.length && box.c0 + width <= xs.length;
		const regular = block.every((row) => row.length === width);
		if (regular && (selected || (fits && height * width < xs.length * ys.length)))
			return {
				targets: block.flatMap((row, r) => row.map((v, c) => ({ x: xs[box.c0 + c]!, y: ys[box.r0 + r]!, v })))
			};
	}
	try {
		const p = pasteInto(item, text);
		if (p.how === 'resampled')
			return {
				problem: 'it stands on other axes: “Paste” above the table lays it over, and says by how much'
			};
		return { targets: p.cells.map(({ x, y, to }) => ({ x, y, v: to })) };
	} catch (e) {
		if (e instanceof InputError) return { problem: e.message };
		throw e;
	}
}

/** A block of a table as tab-separated text, the highest row first, as the grid shows it. */
export function blockText(
	values: readonly (readonly number[])[],
	{ c0, c1, r0, r1 }: Block,
	decimals: number
): string {
	return values
		.slice(r0, r1 + 1)
		.reverse()
		.map((row) =>
			row
				.slice(c0, c1 + 1)
				.map((v) => fixed(v, decimals))
				.join('\t')
		)
		.join('\n');
}
