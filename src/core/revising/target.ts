/**
 * What a lambda target under boost could be where it is itself too lean or too rich: offered, never proposed. The target is a person's decision,
 * and what it frees stands beside it.
 */
import { turner } from '../calibration/axes.ts';
import type { Calibration, MapItem } from '../calibration/document.ts';
import { decimalsOf, findMap, membersOf, roundTo } from '../calibration/lookup.ts';
import type { Evidence } from '../correction/evidence.ts';
import { dutyFromPulse } from '../evidence/duty.ts';
import { fixed, signed } from '../format.ts';
import { heldHigh } from '../screening/measure.ts';
import { HOLD_S } from '../screening/reserve.ts';
import type { CellChange, ItemProposal } from './proposal.ts';

const ITEM = 'lambda.target';
/** High 11s on the petrol scale are good under boost, 10 to 11 rich (common practice): what a lean and a rich target are brought to, λ. */
const GOOD_LEAN_SIDE = 0.82;
const GOOD_RICH_SIDE = 0.76;
/** With much ethanol targets are richer, and measured so: nothing is offered for a rich one there, percent. */
const MUCH_ETHANOL_PCT = 30;
/** A node is boosted from this far above the barometer, kPa. */
const BOOSTED_KPA = 20;

/** @param base the revision that is to be changed, in canonical units */
export function offerTargets(evidence: readonly Evidence[], base: Calibration | null): ItemProposal[] {
	const first = evidence[0]?.input;
	if (!base || !first || first.vehicle.engine.aspiration === 'na') return [];
	const { profile, segments, vehicle } = first;
	const codes = evidence.flatMap((e) => e.findings.map((f) => f.code));
	const lean = codes.includes('fuel.target');
	const rich =
		(vehicle.fuel?.ethanolPct ?? 0) < MUCH_ETHANOL_PCT &&
		vehicle.fuel?.stoich === undefined &&
		codes.includes('fuel.rich');
	return membersOf(base, ITEM).flatMap((id) => {
		const table = findMap(base, id);
		const toKpa = table && turner(table.y, { channel: 'map' }, segments.baroKpa);
		if (!table || !toKpa) return [];
		const wanted = (v: number) =>
			lean && v > profile.targetLeanBoosted
				? GOOD_LEAN_SIDE
				: rich && v < profile.lambdaRichest
					? GOOD_RICH_SIDE
					: null;
		const cells = boostedCells(table, (y) => toKpa(y) >= segments.baroKpa + BOOSTED_KPA, wanted);
		if (cells.length === 0) return [];
		return [
			{
				item: id,
				cells,
				reason: reasonOf(evidence, cells, base.fuelModel === 'pulse-width'),
				findings: [lean ? 'fuel.target' : 'fuel.rich'],
				kind: 'target' as const
			}
		];
	});
}

function boostedCells(
	table: MapItem,
	boosted: (y: number) => boolean,
	wanted: (v: number) => number | null
): CellChange[] {
	return table.y.points.flatMap((y, r) =>
		boosted(y)
			? table.x.points.flatMap((x, c): CellChange[] => {
					const from = table.values[r]![c]!;
					const to = wanted(from);
					return to === null
						? []
						: [
								{
									x,
									y,
									from,
									to: roundTo(to, decimalsOf(table)),
									basis: 'carried',
									samples: 0,
									se: null,
									ask: true
								}
							];
				})
			: []
	);
}

/** What it costs or frees, as far as that can be told: fuel and duty by the ratio of the targets. */
function reasonOf(evidence: readonly Evidence[], cells: readonly CellChange[], pulseWidth: boolean): string {
	const more = cells.map((c) => 100 * (c.from / c.to - 1));
	const [least, most] = [Math.min(...more), Math.max(...more)];
	const fuel = least === most ? signed(most, 0) : `${signed(least, 0)} to ${signed(most, 0)}`;
	const duty = Math.max(
		...evidence.map(({ input }) => {
			const values = dutyFromPulse(input);
			return values ? heldHigh(input.frame, values, HOLD_S, input.segments.loaded).level : Number.NaN;
		})
	);
	const after = duty * (1 + most / 100);
	const richer = most > 0;
	return [
		`${richer ? 'A target that is lean' : 'A target that is far too rich'} under boost: ${fuel} % of fuel there`,
		...(Number.isFinite(duty) ? [`injector duty ${fixed(duty, 0)} to about ${fixed(after, 0)} %`] : []),
		richer
			? 'a cooler exhaust and more room against knock'
			: 'more power and cleaner oil, and a hotter exhaust',
		...(pulseWidth
			? ['the fuel table has to follow: in this model the target moves only the closed loop']
			: [])
	].join('; ');
}
