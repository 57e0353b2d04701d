/** A calibration read along a log: what its tables gave at every sample, blended members mixed first. */
import { AxisFinder, Surface, type ColumnPlaces } from './grid.ts';
import { axisChannel } from './axes.ts';
import type { Columns } from '../logfile/frame.ts';
import type { Axis, Calibration, Item } from './document.ts';
import { findItem } from './lookup.ts';
import { itemConversion } from './item-units.ts';

export const blendOf = (c: Calibration, id: string) => c.blends?.find((b) => b.item === id) ?? null;

/**
 * Share of each member of a blend per sample, 0–1, members in the order of the blend; linear between its points.
 * @returns `null` when the channel it blends by isn't logged
 */
export function blendShares(
	frame: Columns,
	blend: NonNullable<Calibration['blends']>[number],
	baroKpa: number
): Float32Array[] | null {
	const channel = axisChannel(frame, blend, baroKpa);
	if (!channel) return null;
	const finder = new AxisFinder(blend.points);
	const shares = blend.members.map(() => new Float32Array(frame.length));
	for (let i = 0; i < frame.length; i++) {
		const v = channel[i]!;
		if (v !== v) continue;
		const { i: at, t } = finder.find(v);
		shares[at]![i] = 1 - t;
		if (t > 0) shares[at + 1]![i] = t;
	}
	return shares;
}

/** In the canonical unit of the item, whatever unit the document keeps. */
function alongItem(frame: Columns, item: Item, baroKpa: number): Float32Array | null {
	if (item.kind === 'setting') return null;
	const { scale, offset } = itemConversion(item, baroKpa);
	const out = asWritten(frame, item, baroKpa);
	if (out && (scale !== 1 || offset !== 0))
		for (let i = 0; i < out.length; i++) out[i] = scale * out[i]! + offset;
	return out;
}

function asWritten(
	frame: Columns,
	item: Exclude<Item, { kind: 'setting' }>,
	baroKpa: number
): Float32Array | null {
	if (item.kind === 'scalar') return new Float32Array(frame.length).fill(item.value);
	const x = placesOn(frame, item.x, baroKpa);
	if (!x) return null;
	if (item.kind === 'curve') {
		const out = new Float32Array(frame.length);
		for (let i = 0; i < out.length; i++) {
			const at = x.at[i]!;
			const t = x.t[i]!;
			const a = item.values[at]!;
			out[i] = t === 0 ? a : a + ((item.values[at + 1] ?? Number.NaN) - a) * t;
		}
		return out;
	}
	const y = placesOn(frame, item.y, baroKpa);
	return y && new Surface(item.x.points, item.y.points, item.values).along(x, y);
}

/**
 * Where each sample falls on an axis. Tables of a calibration share their axes, and revisions of a job nearly all of them: it is worked
 * out once per log and axis, which is most of what reading a table takes.
 */
const known = new WeakMap<Columns, Map<string, ColumnPlaces | null>>();
function placesOn(frame: Columns, axis: Axis, baroKpa: number): ColumnPlaces | null {
	let ofFrame = known.get(frame);
	if (!ofFrame) known.set(frame, (ofFrame = new Map()));
	const key = `${axis.channel} ${axis.unit ?? ''} ${baroKpa} ${axis.points.join()}`;
	let places = ofFrame.get(key);
	if (places === undefined) {
		const column = axisChannel(frame, axis, baroKpa);
		places = column && new AxisFinder(axis.points).along(column);
		ofFrame.set(key, places);
	}
	return places;
}

/**
 * What item `id` (a map, curve or scalar, or the blend of that name) gives along a log.
 * @returns `null` when there is no such item, or a channel of its axes or its blend isn't logged
 */
export function along(
	frame: Columns,
	calibration: Calibration,
	id: string,
	baroKpa: number
): Float32Array | null {
	const blend = blendOf(calibration, id);
	if (!blend) {
		const item = findItem(calibration, id);
		return item ? alongItem(frame, item, baroKpa) : null;
	}
	const shares = blendShares(frame, blend, baroKpa);
	if (!shares) return null;
	const out = new Float32Array(frame.length);
	for (const [m, member] of blend.members.entries()) {
		const values = alongItem(frame, findItem(calibration, member)!, baroKpa);
		if (!values) return null;
		// A share of zero leaves a member out, also where it has no value.
		for (let i = 0; i < out.length; i++) if (shares[m]![i]! > 0) out[i]! += shares[m]![i]! * values[i]!;
	}
	// Where the channel that blends has no value, nobody knows what the blend gave.
	for (let i = 0; i < out.length; i++) if (shares.every((s) => !(s[i]! > 0))) out[i] = Number.NaN;
	return out;
}
