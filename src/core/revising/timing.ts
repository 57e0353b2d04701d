/**
 * Proposal for the timing table: where a step of knock that counts as real rises, its level and `timingExtraDeg` come out, rounded up to half a
 * degree, at most `timingMostDeg` per revision, blended one cell around. Timing is never added.
 */
import { fixed } from '../format.ts';
import type { Calibration, MapItem } from '../calibration/document.ts';
import { decimalsOf, findMap, roundTo } from '../calibration/lookup.ts';
import { surfaceOf } from '../calibration/effective-fuel.ts';
import { AxisFinder } from '../calibration/grid.ts';
import { axisChannel } from '../calibration/axes.ts';
import type { Evidence } from '../correction/evidence.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';

const STEP_DEG = 0.5;
/** Share in the interpolated timing from which a cell counts as one where it knocked. */
const PART = 0.25;
/** Share of a cell's change that its neighbours get. */
const BLEND = 0.5;

/** Degrees to take out for a peak of retard, before the limit per revision. */
export function timingToTakeOut(peakDeg: number, extraDeg: number): number {
	// A tenth of a thousandth less, so that 2.0 read as 2.0000001 isn't rounded up a step.
	return Math.ceil((peakDeg + extraDeg) / STEP_DEG - 1e-4) * STEP_DEG;
}

/**
 * @param base the revision that is to be changed. Knock is judged against the timing that its log was made with: what the newest has less
 * already stays as it is, and nothing of an older one comes back.
 */
export function proposeTiming(
	evidence: readonly Evidence[],
	base: Calibration | null,
	cautious = false
): { change: ItemProposal | null; held: Held[] } {
	const id = 'spark.table';
	const table = base ? findMap(base, id) : null;
	const held: Held[] = [];
	const codes = new Set<string>();
	const relevant = evidence.flatMap(({ input, findings }) => {
		const active = findings
			.filter((f) => f.code === 'knock.real' || f.code === 'knock.unclear')
			.map((f) => f.code);
		active.forEach((c) => codes.add(c));
		return (input.knock ?? [])
			.filter(
				(e) => !e.proved && active.includes(`knock.${e.shape}`) && e.peakDeg >= input.profile.knockWatchDeg
			)
			.map((e) => ({ e, input }));
	});
	if (relevant.length === 0) return { change: null, held };
	if (!table)
		return {
			change: null,
			held: [{ item: id, reason: 'it knocked, but the calibration has no timing table' }]
		};
	const { timingMostDeg: mostDeg, timingExtraDeg: extraDeg } = evidence[0]!.input.profile;
	const nx = table.x.points.length;
	const ny = table.y.points.length;
	const fx = new AxisFinder(table.x.points);
	const fy = new AxisFinder(table.y.points);
	const hits = new Float64Array(nx * ny);
	/** 1 where something speaks that doesn't come without load as well. */
	const plain = new Uint8Array(nx * ny);
	/** Degrees that come out by each log's revision. */
	const outs = new Map<Calibration | null, Float64Array>();
	let beyond = 0;
	let worst = 0;
	let unplaced = 0;
	for (const { e, input } of relevant) {
		const xs = axisChannel(input.frame, table.x, input.segments.baroKpa);
		const ys = axisChannel(input.frame, table.y, input.segments.baroKpa);
		let out = outs.get(input.calibration);
		if (!out) outs.set(input.calibration, (out = new Float64Array(nx * ny)));
		for (const rise of e.rises) {
			const x = xs?.[rise.at] ?? Number.NaN;
			const y = ys?.[rise.at] ?? Number.NaN;
			if (!Number.isFinite(x) || !Number.isFinite(y)) {
				if (rise.at === e.peakAt) unplaced++;
				continue;
			}
			const wanted = timingToTakeOut(rise.deg, extraDeg);
			if (wanted > mostDeg) {
				if (rise.at === e.peakAt) beyond++;
				worst = Math.max(worst, wanted);
			}
			// What the engine got is mixed from the cells around: all that had a real part in it have to give way.
			const { i, t: tx } = fx.find(x);
			const { i: j, t: ty } = fy.find(y);
			for (const [c, r, weight] of [
				[i, j, (1 - tx) * (1 - ty)],
				[i + 1, j, tx * (1 - ty)],
				[i, j + 1, (1 - tx) * ty],
				[i + 1, j + 1, tx * ty]
			] as const) {
				if (weight < PART) continue;
				const cell = r * nx + c;
				out[cell] = Math.max(out[cell]!, Math.min(mostDeg, wanted));
				hits[cell]!++;
				if (!e.control) plain[cell] = 1;
			}
		}
	}
	if (unplaced)
		held.push({
			item: id,
			reason: `${unplaced} knock episodes can't be placed: the axes of the timing table (${table.x.channel}, ${table.y.channel}) aren't logged there`
		});
	if (beyond)
		held.push({
			item: id,
			code: 'knock.real',
			reason: `more than ${mostDeg}° at once: the knock asks for up to ${worst}°. Find the cause; only ${mostDeg}° are taken out now`
		});
	const limits = [...outs].map(([made, out]) => ({
		out,
		most: timingOf(made, id, table, relevant[0]!.input.segments.baroKpa)
	}));
	const cells: CellChange[] = [];
	const decimals = decimalsOf(table);
	for (let r = 0; r < ny; r++) {
		for (let c = 0; c < nx; c++) {
			const i = r * nx + c;
			const from = table.values[r]![c]!;
			let least = from;
			for (const { out, most } of limits) {
				const take = Math.max(out[i]!, carriedTo(out, nx, ny, r, c));
				if (take > 0)
					least = Math.min(least, (most?.(table.x.points[c]!, table.y.points[r]!) ?? from) - take);
			}
			const to = Math.max(table.min ?? -Infinity, roundTo(least, decimals));
			if (to >= from) continue;
			const measured = limits.some(({ out }) => out[i]! > 0);
			const ask = !spoken(plain, nx, ny, r, c);
			if (ask && cautious) continue;
			cells.push({
				x: table.x.points[c]!,
				y: table.y.points[r]!,
				from,
				to,
				basis: measured ? 'measured' : 'carried',
				samples: measured ? hits[i]! : 0,
				se: null,
				...(ask ? { ask: true } : {})
			});
		}
	}
	if (cells.length === 0) return { change: null, held };
	const peak = Math.max(...relevant.map((k) => k.e.peakDeg));
	return {
		change: {
			item: id,
			cells,
			reason: `Knock of up to ${fixed(peak, 1)}°: each step and ${extraDeg}° more taken out where it rose, half of that around`,
			findings: [...codes]
		},
		held
	};
}

/** Share of the largest change around a cell. */
function carriedTo(out: Float64Array, nx: number, ny: number, r: number, c: number): number {
	let most = 0;
	for (let rr = Math.max(0, r - 1); rr <= Math.min(ny - 1, r + 1); rr++)
		for (let cc = Math.max(0, c - 1); cc <= Math.min(nx - 1, c + 1); cc++)
			most = Math.max(most, out[rr * nx + cc]!);
	return BLEND * most;
}

/** Whether a cell or one beside it has something that speaks for itself. */
function spoken(plain: Uint8Array, nx: number, ny: number, r: number, c: number): boolean {
	for (let rr = Math.max(0, r - 1); rr <= Math.min(ny - 1, r + 1); rr++)
		for (let cc = Math.max(0, c - 1); cc <= Math.min(nx - 1, c + 1); cc++)
			if (plain[rr * nx + cc]) return true;
	return false;
}

/** Timing of a revision at the points of another's table; `null` where it is that table, or the revision has none. */
function timingOf(
	made: Calibration | null,
	id: string,
	table: MapItem,
	baroKpa: number
): ((x: number, y: number) => number) | null {
	const own = made ? findMap(made, id) : null;
	if (!made || !own || own === table) return null;
	return surfaceOf(made, id, table, baroKpa);
}
