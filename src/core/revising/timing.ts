/**
 * Proposal for the timing table: where a step of knock that counts as real rises, its level and `timingExtraDeg` come out, rounded up to half a
 * degree, at most `timingMostDeg` per revision, blended one cell around. Timing is never added.
 */
import { fixed } from '../format.ts';
import { decimalsOf, findMap, roundTo } from '../calibration/document.ts';
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

export function proposeTiming(evidence: readonly Evidence[]): { change: ItemProposal | null; held: Held[] } {
	const id = 'spark.table';
	const calibration = evidence[0]?.input.calibration;
	const table = calibration ? findMap(calibration, id) : null;
	const held: Held[] = [];
	const codes = new Set<string>();
	const relevant = evidence.flatMap(({ input, findings }) => {
		const active = findings
			.filter((f) => f.code === 'knock.real' || f.code === 'knock.unclear')
			.map((f) => f.code);
		active.forEach((c) => codes.add(c));
		return (input.knock ?? [])
			.filter((e) => active.includes(`knock.${e.shape}`) && e.peakDeg >= input.profile.knockWatchDeg)
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
	const out = new Float64Array(nx * ny);
	const hits = new Float64Array(nx * ny);
	let beyond = 0;
	let worst = 0;
	let unplaced = 0;
	for (const { e, input } of relevant) {
		const xs = axisChannel(input.frame, table.x, input.segments.baroKpa);
		const ys = axisChannel(input.frame, table.y, input.segments.baroKpa);
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
	const cells: CellChange[] = [];
	const decimals = decimalsOf(table);
	for (let r = 0; r < ny; r++) {
		for (let c = 0; c < nx; c++) {
			const i = r * nx + c;
			let carried = 0;
			for (let dr = -1; dr <= 1; dr++)
				for (let dc = -1; dc <= 1; dc++) {
					const rr = r + dr;
					const cc = c + dc;
					if (rr >= 0 && rr < ny && cc >= 0 && cc < nx)
						carried = Math.max(carried, BLEND * out[rr * nx + cc]!);
				}
			const take = Math.max(out[i]!, carried);
			if (take === 0) continue;
			const from = table.values[r]![c]!;
			const to = Math.max(table.min ?? -Infinity, roundTo(from - take, decimals));
			if (to === from) continue;
			const measured = out[i]! > 0;
			cells.push({
				x: table.x.points[c]!,
				y: table.y.points[r]!,
				from,
				to,
				basis: measured ? 'measured' : 'carried',
				samples: measured ? hits[i]! : 0,
				se: null
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
