/** What changed between two calibrations as a table of lines, for a spreadsheet or the file of the job. */
import { fixed } from '../format.ts';
import type { Comparison } from './compare.ts';
import { tableDelta } from './compare.ts';
import { isTable } from './formats/csv.ts';
import type { Calibration } from './document.ts';
import { findItem } from './lookup.ts';

const HEAD = ['item', 'class', 'rule', 'x', 'y', 'old', 'new', 'difference', 'percent', 'reason'];

function quoted(v: string | number): string {
	// A text that a spreadsheet would take for a formula begins with an apostrophe there.
	const text = typeof v === 'string' && /^[=+\-@\t\r]/.test(v) ? `'${v}` : String(v);
	return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

const tidy = (v: number) => Number(fixed(v, 6));

/**
 * One line per changed cell or value, as CSV. Where axes differ the old value is that of the old surface at the new point.
 * @param reasons by `item|x|y`
 */
export function changeReportCsv(
	a: Calibration,
	b: Calibration,
	comparison: Comparison,
	reasons: Readonly<Record<string, string>> = {}
): string {
	const lines: (string | number)[][] = [HEAD];
	for (const guard of comparison.guards)
		lines.push([guard.item, 'not comparable', guard.why, '', '', '', '', '', '', guard.affects.join(' ')]);
	for (const change of comparison.changes) {
		const old = findItem(a, change.item);
		const now = findItem(b, change.item);
		if (!isTable(old) || !isTable(now)) {
			const numeric = typeof change.from === 'number' && typeof change.to === 'number';
			lines.push([
				change.item,
				change.class,
				change.rule,
				'',
				'',
				String(change.from ?? ''),
				String(change.to ?? ''),
				numeric ? tidy((change.to as number) - (change.from as number)) : '',
				numeric && change.from !== 0 ? tidy(100 * ((change.to as number) / (change.from as number) - 1)) : '',
				reasons[`${change.item}|0|0`] ?? ''
			]);
			continue;
		}
		const rows = now.kind === 'map' ? now.values : [now.values];
		tableDelta(old, now).forEach((row, r) =>
			row.forEach((delta, c) => {
				if (delta === 0) return;
				const x = now.x.points[c]!;
				const y = now.kind === 'map' ? now.y.points[r]! : 0;
				const to = rows[r]![c]!;
				const from = to - delta;
				lines.push([
					change.item,
					change.class,
					change.rule,
					x,
					now.kind === 'map' ? y : '',
					tidy(from),
					to,
					tidy(delta),
					from === 0 ? '' : tidy(100 * (to / from - 1)),
					reasons[`${change.item}|${x}|${y}`] ?? ''
				]);
			})
		);
	}
	return lines.map((l) => `${l.map(quoted).join(',')}\n`).join('');
}
