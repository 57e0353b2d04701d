/** An item of one file as another file would write it: in its units, at its points, to its decimals. */
import { stepOf } from './canonical.ts';
import type { Axis, Item } from './document.ts';
import { decimalsOf, roundTo } from './lookup.ts';
import { itemTurner } from './item-units.ts';
import { itemKind } from './items.ts';
import { inChannelsOf, STANDARD_KPA } from './resample.ts';

/** Points that lie this near to each other, as a share of the axis, are one point that was written in another unit. */
const ONE_POINT = 1e-3;

type Valued = Exclude<Item, { kind: 'setting' }>;

function snapped(axis: Axis, like: Axis): Axis {
	const most = ONE_POINT * Math.abs(like.points.at(-1)! - like.points[0]!);
	return { ...axis, points: axis.points.map((p) => like.points.find((q) => Math.abs(q - p) <= most) ?? p) };
}

/**
 * @param theirs item of a file that was worked on elsewhere @param mine the same item here, of the same kind
 * @returns `null` where the two are in units that measure different things
 * @example inUnitsOf({ id: 'boost.target', unit: 'psi', … 29 }, { id: 'boost.target', unit: 'kPa', … }) // 199.9 kPa
 */
export function inUnitsOf(theirs: Valued, mine: Valued): Valued | null {
	const unit = mine.unit ?? itemKind(mine.id)?.unit;
	if ((theirs.unit ?? itemKind(theirs.id)?.unit) === unit) return onAxesOf(theirs, mine);
	const turn = itemTurner(theirs, unit, STANDARD_KPA);
	if (!turn) return null;
	// Rounded where it was written: less than half of the coarser last digit is the value that stands here.
	const scale = stepOf(mine) * 10 ** decimalsOf(mine);
	const noise = (0.5 * Math.max(stepOf(theirs), stepOf(mine))) / scale + 1e-9;
	const near = (v: number, here: number | undefined) =>
		here !== undefined && Math.abs(turn(v) - here) <= noise ? here : roundTo(turn(v), decimalsOf(mine));
	const out = { ...theirs, ...(mine.unit === undefined ? {} : { unit: mine.unit }) };
	if (mine.unit === undefined) delete out.unit;
	if (out.kind === 'scalar') out.value = near(out.value, mine.kind === 'scalar' ? mine.value : undefined);
	else if (out.kind === 'curve')
		out.values = out.values.map((v, i) => near(v, mine.kind === 'curve' ? mine.values[i] : undefined));
	else
		out.values = out.values.map((row, r) =>
			row.map((v, c) => near(v, mine.kind === 'map' ? mine.values[r]?.[c] : undefined))
		);
	return onAxesOf(out, mine);
}

function onAxesOf(item: Valued, mine: Valued): Valued {
	if (item.kind === 'scalar' || mine.kind === 'scalar') return item;
	const turned = inChannelsOf(item, mine);
	if (turned === item) return item;
	if (turned.kind === 'curve' || mine.kind === 'curve') return { ...turned, x: snapped(turned.x, mine.x) };
	return { ...turned, x: snapped(turned.x, mine.x), y: snapped(turned.y, mine.y) };
}
