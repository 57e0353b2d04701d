/** What a pasted text is read as, with what the layout knows and what the numbers allow. */
import { readPasted, turned, type PastedScalar, type PastedTable } from '$core/calibration/tables/block';
import { guessOf, looksTransposed, type Guess } from '$core/calibration/tables/guess';
import type { TableLayout } from '$core/calibration/tables/layout';
import { InputError } from '$core/input-error';

export interface Read {
	table: PastedTable | null;
	scalars: PastedScalar[] | null;
	guess: Guess | null;
	/** x runs down the rows. */
	transposed: boolean;
	problem: string;
}

export const NOTHING: Read = { table: null, scalars: null, guess: null, transposed: false, problem: '' };

/** @param known items that are there already */
export function readText(
	text: string,
	axes: { x: string; y: string },
	expected: TableLayout | null,
	known: ReadonlySet<string>
): Read {
	if (text.trim() === '') return NOTHING;
	try {
		const pasted = readPasted(text, {
			...(axes.x.trim() ? { x: axes.x } : {}),
			...(axes.y.trim() ? { y: axes.y } : {}),
			none: expected?.axes === 'without'
		});
		if ('scalars' in pasted) return { ...NOTHING, scalars: pasted.scalars };
		const transposed = expected ? expected.transposed : looksTransposed(pasted.table);
		const table = transposed && !pasted.table.orientation.transposed ? turned(pasted.table) : pasted.table;
		return { ...NOTHING, table, transposed, guess: guessOf(table, known) };
	} catch (e) {
		if (e instanceof InputError) return { ...NOTHING, problem: e.message };
		throw e;
	}
}
