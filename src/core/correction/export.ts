/** The requirement for whoever computes with it elsewhere: air models that no table can hold. */
import { axisUnit } from '../calibration/axes.ts';
import { fixed } from '../format.ts';
import type { Requirement } from './estimate.ts';

const COLUMNS = [
	'item',
	'x',
	'y',
	'value',
	'wanted',
	'correction_pct',
	'sd_pct',
	'trust',
	'basis',
	'samples',
	'seconds'
];

/**
 * One line a node: where it stands (by the axes of its table), what it has, what the engine wants, how sure that is, what it rests on.
 * The names of the axes stand in the header: `x [rpm rpm]`.
 */
export function requirementCsv(r: Requirement): string {
	const first = r.nodes.tables[0];
	const axis = (name: string, ref: { channel: string; unit?: string | undefined } | null | undefined) =>
		ref ? `${name} [${[ref.channel, axisUnit(ref)].filter(Boolean).join(' ')}]` : name;
	const header = COLUMNS.map((c) => (c === 'x' ? axis(c, first?.x) : c === 'y' ? axis(c, first?.y) : c));
	if (r.nodes.blend) header.push(`blend [${r.nodes.blend.channel}]`);
	const lines = r.nodes.tables.flatMap((t) =>
		t.rows.flatMap((row, k) =>
			row.map((value, c) => {
				const i = t.first + k * t.nx + c;
				const d = r.field.d[i]!;
				return [
					t.id,
					t.x.points[c]!,
					t.y?.points[k] ?? '',
					value,
					Number(fixed(value * (1 + d), 6)),
					fixed(100 * d, 3),
					fixed(100 * r.changes[i]!.sdTotal, 3),
					fixed(r.field.trust[i]!, 3),
					r.changes[i]!.basis ?? 'none',
					fixed(r.field.support[i]!, 1),
					fixed(r.field.seconds[i]!, 2),
					...(r.nodes.blend ? [r.nodes.blend.points[t.member]!] : [])
				].join(',');
			})
		)
	);
	return `${[header.join(','), ...lines].join('\n')}\n`;
}
