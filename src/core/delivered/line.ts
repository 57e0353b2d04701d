/**
 * One line per quantity from the table to the engine: what the revision has written, what the controller commanded, what was delivered, what
 * was measured, by engine speed at full load. The first link that doesn't follow the one before it is where to look.
 */
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG, UNUSABLE } from '../evidence/segments/kinds.ts';
import { derived } from '../logfile/columns.ts';
import { medianAt } from '../screening/measure.ts';

export type LinkName = 'written' | 'commanded' | 'delivered' | 'measured';
export type Quantity = 'fuel' | 'timing' | 'boost' | 'throttle' | 'shifts';

export interface Link {
	name: LinkName;
	/** What stands there: "timing table of the revision". */
	title: string;
	/** Canonical unit of `values`. */
	unit: string;
	/** One per point of the line's axis; null where nothing says so there. */
	values: (number | null)[];
	/** Why the link can't be told; null where it can. */
	missing: string | null;
	/** Channels that would tell it, where it is for want of them. */
	asks?: readonly string[];
	/** Its values are deviations from their own middle (`itself`), or say something of their own that follows nothing (`nothing`). */
	against?: 'itself' | 'nothing';
}

export interface Broken {
	at: LinkName;
	/** A sentence; its quantities may be marked. */
	why: string;
	/** Points of the axis that it holds from and to; absent where it holds everywhere. */
	from?: number;
	to?: number;
}

export interface Line {
	quantity: Quantity;
	title: string;
	axis: { title: string; unit: string; points: number[] };
	links: Link[];
	/** The first link that broke; null where none did as far as the links can be told. */
	broken: Broken | null;
}

export const BIN_RPM = 500;
/** Fewer samples than this say nothing of a bin. */
const LEAST_SAMPLES = 3;

/** Full-load samples by engine speed: the middle of each bin, and its samples. */
export interface Bins {
	points: number[];
	samples: Int32Array[];
}

/** @param where further samples to leave out */
export function binsOf({ frame, segments }: Prepared, where: (i: number) => boolean = () => true): Bins {
	const rpm = frame.get('rpm');
	if (!rpm) return { points: [], samples: [] };
	const by = new Map<number, number[]>();
	for (const run of segments.loaded)
		for (let i = run.from; i <= run.to; i++) {
			const flags = segments.flags[i]!;
			if (!(flags & FLAG.loaded) || flags & UNUSABLE || !(rpm[i]! > 0) || !where(i)) continue;
			const bin = Math.floor(rpm[i]! / BIN_RPM);
			const list = by.get(bin);
			if (list) list.push(i);
			else by.set(bin, [i]);
		}
	const bins = [...by].filter(([, s]) => s.length >= LEAST_SAMPLES).sort(([a], [b]) => a - b);
	return {
		points: bins.map(([bin]) => (bin + 0.5) * BIN_RPM),
		samples: bins.map(([, s]) => Int32Array.from(s))
	};
}

/** Medians of a column by bin. */
export function mediansIn(bins: Bins, values: Float32Array | null): (number | null)[] {
	return bins.samples.map((s) => {
		const m = values ? medianAt(values, s, LEAST_SAMPLES) : Number.NaN;
		return Number.isFinite(m) ? m : null;
	});
}

/** @param absent why it can't be told where no bin has a value, and the channels that would tell it */
export function link(
	{ name, title, unit }: Pick<Link, 'name' | 'title' | 'unit'>,
	bins: Bins,
	values: Float32Array | null,
	absent: { missing: string; asks?: readonly string[] }
): Link {
	const medians = mediansIn(bins, values);
	const told = medians.some((v) => v !== null);
	return { name, title, unit, values: medians, ...(told ? { missing: null } : absent) };
}

/** Where two columns are farther apart than `by`, sample against sample; null where nowhere. Differences are b − a. */
export function apart(
	bins: Bins,
	a: Float32Array | null,
	b: Float32Array | null,
	by: number
): { worst: number; at: number; from: number; to: number } | null {
	if (!a || !b) return null;
	const differences = mediansIn(
		bins,
		derived(a, (v, i) => b[i]! - v)
	);
	let worst = 0;
	let at = -1;
	let from = -1;
	let to = -1;
	bins.points.forEach((p, i) => {
		const d = differences[i];
		if (d === null || d === undefined || Math.abs(d) <= by) return;
		if (from < 0) from = p;
		to = p;
		if (Math.abs(d) > Math.abs(worst)) {
			worst = d;
			at = p;
		}
	});
	return at < 0 ? null : { worst, at, from: from - BIN_RPM / 2, to: to + BIN_RPM / 2 };
}
