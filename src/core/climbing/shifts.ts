/**
 * Full-throttle upshifts towards the wanted speed: command new = old + (wanted − got), by at most 300 rpm a revision, from two shifts of that gear,
 * never so that the shift would come within 150 rpm of the limiter (common practice). Beside the ladder, not a rung of it: a shift takes
 * no more of the engine.
 */
import type { CurveItem, MapItem } from '../calibration/document.ts';
import { findItem, roundTo, decimalsOf } from '../calibration/lookup.ts';
import { fullShifts } from '../delivered/shifts.ts';
import { fixed, plural } from '../format.ts';
import type { CellChange, ItemProposal } from '../revising/proposal.ts';
import { shiftRpm } from '../screening/checks/drivetrain.ts';
import { median } from '../stats/stats.ts';
import type { LadderCase } from './case.ts';

const LEAST_SHIFTS = 2;
const MOST_RPM = 300;
const UNDER_LIMIT_RPM = 150;
/** As near as a gearbox repeats itself. Own choice. */
const WITHIN_RPM = 50;

export interface ShiftAnswer {
	changes: ItemProposal[];
	/** One sentence per wanted gear. */
	says: string[];
}

export function shiftsOf(c: LadderCase): ShiftAnswer {
	const wanted = c.goal.shiftRpm ?? [];
	const none = (why: string): ShiftAnswer => ({ changes: [], says: [why] });
	if (wanted.length === 0) return { changes: [], says: [] };
	const item = findItem(c.calibration, 'shift.rpm');
	if (item?.kind !== 'curve' && item?.kind !== 'map')
		return none('The calibration has no shift speeds to change.');
	if (c.vehicle.controller?.locked?.some((l) => /gear/i.test(l)))
		return none('The gearbox of this controller is stated as locked: no shift speed reaches it.');
	const limit = (c.goal.revLimitRpm ?? c.vehicle.engine.revLimitRpm) - UNDER_LIMIT_RPM;
	const seen = c.logs.flatMap(({ input }) => fullShifts(input));
	const cells: CellChange[] = [];
	const says = wanted.map(([gear, want]): string => {
		const own = seen.filter((s) => s.gear === gear && !s.limited).map((s) => s.rpm);
		const cut = seen.filter((s) => s.gear === gear && s.limited).length;
		if (own.length < LEAST_SHIFTS)
			return `Out of gear ${gear}: ${plural(own.length, 'full-throttle shift')} seen${cut ? `, ${cut} more that the limiter ended` : ''}; ${LEAST_SHIFTS} are needed.`;
		const got = median(own);
		const old = shiftRpm(item, gear, FLAT_PEDAL)!;
		if (want > limit)
			return `Out of gear ${gear}: ${fixed(want, 0)} rpm are wanted, and ${fixed(limit, 0)} are the most under the rev limit.`;
		if (Math.abs(want - got) <= WITHIN_RPM)
			return `Out of gear ${gear}: it shifts at ${fixed(got, 0)} rpm, as wanted.`;
		const step = Math.max(-MOST_RPM, Math.min(MOST_RPM, want - got));
		// The shift comes as much after its command as it did: that has to stay under the limiter too.
		const to = roundTo(Math.min(old + step, limit - (got - old)), decimalsOf(item));
		const changed = cellsOf(item, gear, to);
		if (changed.length === 0 || Math.abs(to - old) < 1)
			return `Out of gear ${gear}: it shifts at ${fixed(got, 0)} rpm, and the table has no point of its own for that gear.`;
		cells.push(...changed);
		return `Out of gear ${gear}: it shifts at ${fixed(got, 0)} rpm, ${fixed(want, 0)} are wanted: command ${fixed(old, 0)} → ${fixed(to, 0)}.`;
	});
	const reason = 'Full-throttle shifts towards the wanted speed, by at most 300 rpm at once';
	return { changes: cells.length ? [{ item: 'shift.rpm', cells, reason, findings: [] }] : [], says };
}
const FLAT_PEDAL = 100;

/** The cells of a gear at a flat pedal, where the table has a point for that gear. */
function cellsOf(item: CurveItem | MapItem, gear: number, to: number): CellChange[] {
	const cell = (x: number, y: number, from: number): CellChange => ({
		x,
		y,
		from,
		to,
		basis: 'measured',
		samples: 0,
		se: null
	});
	if (item.kind === 'curve') {
		const k = item.x.points.indexOf(gear);
		return k < 0 || item.values[k] === to ? [] : [cell(gear, 0, item.values[k]!)];
	}
	const byGear = item.x.channel === 'gear';
	const k = (byGear ? item.x : item.y).points.indexOf(gear);
	const pedal = byGear ? item.y.points : item.x.points;
	const p = pedal.length - 1;
	if (k < 0) return [];
	const from = byGear ? item.values[p]![k]! : item.values[k]![p]!;
	return from === to ? [] : [byGear ? cell(gear, pedal[p]!, from) : cell(pedal[p]!, gear, from)];
}
