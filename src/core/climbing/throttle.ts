/**
 * A throttle that stays short of open under a flat pedal: whose limit it is, and a proposal only where the demand table of the revision itself is
 * what closes it (common practice). A torque limit, a gearbox or a component is nothing that this table opens.
 */
import { decimalsOf, findMap, roundTo } from '../calibration/lookup.ts';
import { throttleLine } from '../delivered/throttle.ts';
import { plain } from '../format.ts';
import type { CellChange, ItemProposal } from '../revising/proposal.ts';
import type { LadderCase } from './case.ts';

export interface ThrottleAnswer {
	changes: ItemProposal[];
	/** Whose limit it is; `null` where the throttle opens, or nobody can tell. */
	why: string | null;
}

const OPEN_PCT = 100;

export function throttleOf(c: LadderCase): ThrottleAnswer {
	const newest = c.logs.at(-1);
	const broken = newest ? throttleLine(newest.input).broken : null;
	if (!broken) return { changes: [], why: null };
	const why = plain(broken.why);
	const table = findMap(c.calibration, 'throttle.demand');
	if (broken.at !== 'written' || !table) return { changes: [], why };
	// Pedal and engine speed may lie either way round; the row of the flattest pedal is meant.
	const byRpm = table.x.channel === 'rpm';
	const speeds = byRpm ? table.x.points : table.y.points;
	const pedals = byRpm ? table.y.points : table.x.points;
	const last = pedals.length - 1;
	/** Points around the stretch: between them the table is interpolated. */
	const inside = (k: number) =>
		(speeds[k + 1] ?? Infinity) > (broken.from ?? 0) &&
		(speeds[k - 1] ?? -Infinity) < (broken.to ?? Infinity);
	const cells = speeds.flatMap((rpm, k): CellChange[] => {
		const from = byRpm ? table.values[last]![k]! : table.values[k]![last]!;
		if (!inside(k) || from >= OPEN_PCT) return [];
		const to = roundTo(OPEN_PCT, decimalsOf(table));
		const [x, y] = byRpm ? [rpm, pedals[last]!] : [pedals[last]!, rpm];
		return [{ x, y, from, to, basis: 'measured', samples: 0, se: null }];
	});
	const reason = 'Under a flat pedal the demand table itself keeps the throttle from opening';
	return { changes: cells.length ? [{ item: 'throttle.demand', cells, reason, findings: [] }] : [], why };
}
