/**
 * The open corpus of CSV edge cases "csv-spectrum" (registry package; Max Ogden, BSD): every file gives the cells that the
 * corpus says.
 */
import { createRequire } from 'node:module';
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { TableScanner } from '../../src/core/logfile/scan.ts';
import { SNIFF_BYTES, sniff } from '../../src/core/logfile/sniff.ts';

const corpus = dirname(createRequire(import.meta.url).resolve('csv-spectrum/package.json'));
const names = readdirSync(join(corpus, 'csvs')).map((f) => f.replace(/\.csv$/, ''));
/** Here the corpus' own answer is another text than its file. */
const CONTRADICTS_ITSELF = new Set(['location_coordinates']);

function cells(bytes: Uint8Array) {
	const layout = sniff(bytes.subarray(0, SNIFF_BYTES));
	const scanner = new TableScanner(
		layout,
		layout.names.map(() => true)
	);
	scanner.push(bytes.subarray(layout.dataOffset));
	return { layout, ...scanner.finish() };
}

describe('the corpus of CSV edge cases', () => {
	it('is all there', () => expect(names.length).toBeGreaterThanOrEqual(12));
	it.each(names.filter((n) => !CONTRADICTS_ITSELF.has(n)))('%s', (name) => {
		const rows = JSON.parse(readFileSync(join(corpus, 'json', `${name}.json`), 'utf8')) as Record<
			string,
			string
		>[];
		const table = cells(readFileSync(join(corpus, 'csvs', `${name}.csv`)));
		expect(table.layout.names).toEqual(Object.keys(rows[0]!));
		expect(table.rows).toBe(rows.length);
		rows.forEach((row, r) =>
			Object.values(row).forEach((text, c) => {
				const column = table.columns[c]!;
				const value = column.values[r]!;
				if (text === '') expect(value).toBeNaN();
				else if (Number.isFinite(Number(text))) expect(value).toBe(Number(text));
				else expect([...column.texts].join('|')).toContain(text);
			})
		);
	});
});
