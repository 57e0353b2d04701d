/** `tanto build`: a calibration from a folder of pasted texts and a layout. */
import { existsSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { buildCalibration, type TextsOfTable } from '../../core/calibration/tables/build.ts';
import { InputError } from '../../core/input-error.ts';
import type { Answer, Output } from '../answer.ts';
import { required, UsageError, words } from '../args.ts';
import { readLayout, readSmallText, writeOut } from '../files.ts';

const ENDINGS = ['.txt', '.tsv', '.csv'];

export async function run(args: string[], output: Pick<Output, 'err'>): Promise<Answer> {
	const w = words(args, ['layout', 'out']);
	const [folder, ...more] = w.positionals;
	if (!folder || more.length) throw new UsageError('build takes one folder');
	const layout = await readLayout(required(w, 'layout'));
	const out = required(w, 'out');
	if (!existsSync(folder)) throw new InputError('there is no such folder', folder);
	const files = filesOf(folder);
	const text = async (name: string) => {
		const file = ENDINGS.map((e) => `${name}${e}`).find((f) => files.has(f));
		return file === undefined ? undefined : readSmallText(join(folder, file));
	};
	const tables = new Map<string, TextsOfTable>();
	for (const { item } of layout.tables) {
		const body = await text(item);
		if (body !== undefined)
			tables.set(item, { body, x: await text(`${item}.x`), y: await text(`${item}.y`) });
	}
	const calibration = buildCalibration(layout, tables, (await text('scalars')) ?? null);
	const left = layout.tables.filter((t) => !tables.has(t.item)).map((t) => t.item);
	if (left.length) output.err(`not in ${basename(folder)}: ${left.join(', ')}\n`);
	const items = new Set(layout.tables.map((t) => t.item));
	for (const f of files) {
		const name = f.replace(/\.(txt|tsv|csv)$/, '').replace(/\.[xy]$/, '');
		if (name !== 'scalars' && !items.has(name)) output.err(`not in the layout, left out: ${f}\n`);
	}
	writeOut(out, `${JSON.stringify(calibration, null, '\t')}\n`);
	return { json: { items: calibration.items.map((i) => i.id), missing: left } };
}

function filesOf(folder: string): Set<string> {
	try {
		return new Set(readdirSync(folder).filter((f) => ENDINGS.some((e) => f.endsWith(e))));
	} catch (e) {
		if ((e as NodeJS.ErrnoException).code === 'ENOTDIR')
			throw new InputError('this is a file, not a folder', folder);
		throw e;
	}
}
