/** `tanto table`: a pasted table read, a revision's table written for the tuner's own program, what is there held against a revision. */
import { readPasted, turned, type PastedTable } from '../../core/calibration/tables/block.ts';
import { guessOf, looksTransposed } from '../../core/calibration/tables/guess.ts';
import { scalarLine, tableText } from '../../core/calibration/tables/write.ts';
import { verifyText, type Older } from '../../core/calibration/tables/verify.ts';
import { itemKind } from '../../core/calibration/items.ts';
import { InputError } from '../../core/input-error.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words, type Words } from '../args.ts';
import { readCalibration, readLayout, readSmallText } from '../files.ts';

const OPTIONS = [
	'x',
	'y',
	'item',
	'against',
	'units',
	'x-unit',
	'y-unit',
	'decimals',
	'calibration',
	'layout',
	'rows'
];

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, OPTIONS);
	const [file, ...more] = w.positionals;
	if (!file || more.length) throw new UsageError('table takes one file');
	if (single(w, 'against') !== undefined) return { json: await against(w, file) };
	if (single(w, 'layout') !== undefined) return { pieces: [await written(w, file)] };
	return { json: await read(w, file) };
}

async function axesOf(w: Words): Promise<{ x?: string; y?: string }> {
	const [x, y] = [single(w, 'x'), single(w, 'y')];
	return {
		...(x === undefined ? {} : { x: await readSmallText(x) }),
		...(y === undefined ? {} : { y: await readSmallText(y) })
	};
}

async function read(w: Words, file: string): Promise<unknown> {
	const text = await readSmallText(file);
	const axes = await axesOf(w);
	const pasted = within(file, () => readPasted(text, axes));
	if ('scalars' in pasted) return pasted;
	const found = looksTransposed(pasted.table) ? turned(pasted.table) : pasted.table;
	const item = single(w, 'item');
	return { ...shape(found), guess: guess(found, item) };
}

const shape = ({ x, y, values, orientation, notes, titles }: PastedTable) => ({
	x,
	y,
	values,
	orientation,
	notes,
	titles
});

function guess(t: PastedTable, item: string | undefined) {
	const { items, x, y } = guessOf(t);
	const named = items.find((i) => i.item === item);
	const best =
		item === undefined
			? items[0]
			: (named ?? { item, unit: itemKind(item)?.unit ?? '', why: 'as it was said' });
	return {
		item: best?.item ?? null,
		unit: best?.unit ?? null,
		why: best?.why ?? 'the numbers fit nothing that is known',
		x: x[0] ?? null,
		y: y[0] ?? null
	};
}

async function written(w: Words, file: string): Promise<string> {
	const calibration = await readCalibration(file);
	const layout = await readLayout(required(w, 'layout'));
	const id = required(w, 'item');
	const table = layout.tables.find((t) => t.item === id);
	if (table) return within(file, () => tableText(calibration, table));
	const scalar = layout.scalars.find((s) => s.item === id);
	if (!scalar) throw new InputError(`the layout has no item "${id}"`, single(w, 'layout'));
	return within(file, () => `${scalarLine(calibration, scalar)}\n`);
}

async function against(w: Words, file: string): Promise<unknown> {
	const text = await readSmallText(file);
	const calibration = await readCalibration(required(w, 'against'));
	const item = required(w, 'item');
	const older = await Promise.all(
		(w.options.get('calibration') ?? []).map(async (f, n): Promise<Older> => ({
			name: `R${n}`,
			calibration: await readCalibration(f)
		}))
	);
	const decimals = single(w, 'decimals');
	if (decimals !== undefined && !/^[0-8]$/.test(decimals))
		throw new UsageError('--decimals takes a number from 0 to 8');
	const rows = single(w, 'rows');
	if (rows !== undefined && rows !== 'y-up' && rows !== 'y-down')
		throw new UsageError('--rows takes y-up or y-down');
	const layoutFile = single(w, 'layout');
	const layout = layoutFile === undefined ? null : await readLayout(layoutFile);
	const entry = layout?.tables.find((t) => t.item === item);
	const { why, ...rest } = within(file, () =>
		verifyText(
			text,
			calibration,
			item,
			{
				units: single(w, 'units') ?? entry?.unit,
				xUnit: single(w, 'x-unit') ?? entry?.x.unit,
				yUnit: single(w, 'y-unit') ?? entry?.y?.unit,
				decimals: decimals === undefined ? entry?.decimals : Number(decimals),
				rows: rows ?? entry?.rows,
				transposed: entry?.transposed
			},
			older.toReversed(),
			{}
		)
	);
	return why ? { ...rest, why } : rest;
}

/** A fault of a text names its file. */
function within<T>(file: string, work: () => T): T {
	try {
		return work();
	} catch (e) {
		if (e instanceof InputError) throw new InputError(e.message, file);
		throw e;
	}
}
