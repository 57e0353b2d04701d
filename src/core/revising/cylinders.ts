/**
 * Proposal for the fuel trims of the cylinders, from lambda per cylinder while loaded: what a cylinder needs against the median of the
 * set is added to what is already in its trim (common practice: +3 % becomes +5 % when 2 % is wanted, −2 % becomes 0).
 */
import { FLAG, NO_MIXTURE } from '../evidence/segments/kinds.ts';
import { decimalsOf, findCurve, roundTo, type Calibration } from '../calibration/document.ts';
import { aligned } from '../evidence/lambda/lag.ts';
import { near } from '../evidence/lambda/believed.ts';
import { usable } from '../evidence/lambda/required.ts';
import { median, thinned } from '../stats/stats.ts';
import { signed } from '../format.ts';
import type { Evidence } from '../correction/evidence.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';
import { TAKE_OUT_SHARE, type Strategy } from '../correction/strategy.ts';

const ITEM = 'fuel.cylTrim';
/** Cylinders within this of the median are left alone, in percent. */
const GOOD_PCT = 1;
const MEDIAN_OF = 20_000;

/** New trim of a cylinder that wants `wantedPct` more fuel than its trim of `trimPct` gives, both in percent of the common fuel. */
export function addedTrimPct(trimPct: number, wantedPct: number): number {
	return trimPct + wantedPct;
}

/** @param base the revision that is to be changed; what a cylinder wants is added to the trim that its log was made with */
export function proposeCylinders(
	evidence: readonly Evidence[],
	base: Calibration | null,
	s: Strategy
): { change: ItemProposal | null; held: Held[] } {
	const held: Held[] = [];
	const none = { change: null, held };
	const curve = base ? findCurve(base, ITEM) : null;
	if (!curve) return none;
	const made = evidence[0]?.input.calibration;
	const driven = (made && findCurve(made, ITEM)) ?? curve;
	const wants = wantedByCylinder(evidence, curve.x.points, s);
	if (wants.size === 0) return none;
	const findings = evidence.flatMap((e) => e.findings);
	const banks = findings.find(
		(f) => f.code === 'bank.mismatch' && (f.severity === 'stop' || f.severity === 'fix')
	);
	if (banks)
		return {
			change: null,
			held: [
				{
					item: ITEM,
					code: banks.code,
					reason: `${banks.title}: trims of cylinders would hide it; find the cause first`
				}
			]
		};
	const decimals = decimalsOf(curve);
	const cells: CellChange[] = [];
	curve.x.points.forEach((cylinder, i) => {
		const r = wants.get(cylinder);
		if (!r || r.points === 0) return;
		const misfire = findings.some(
			(f) =>
				f.code === 'misfire' && (f.cylinder === undefined || f.cylinder === cylinder) && f.severity !== 'note'
		);
		if (misfire) {
			held.push({
				item: ITEM,
				code: 'misfire',
				reason: `cylinder ${cylinder}: it misfires, and what its sensor sees then is no mixture`
			});
			return;
		}
		const from = curve.values[i]!;
		const trimThen = driven.values[driven.x.points.indexOf(cylinder)] ?? from;
		const to = roundTo(
			Math.min(curve.max ?? Infinity, Math.max(curve.min ?? -Infinity, addedTrimPct(trimThen, r.points))),
			decimals
		);
		if (to !== from)
			cells.push({ x: cylinder, y: 0, from, to, basis: 'measured', samples: r.samples, se: null });
	});
	if (cells.length === 0) return none;
	return {
		change: {
			item: ITEM,
			cells,
			reason: `Lambda per cylinder under load against the median of the set: ${cells.map((c) => `cylinder ${c.x} ${signed(c.to - c.from)} points`).join(', ')}`,
			findings: [...new Set(findings.filter((f) => f.code === 'cyl.lambda').map((f) => f.code))]
		},
		held
	};
}

interface Wanted {
	/** Median lambda while loaded. */
	lambda: number;
	samples: number;
}

/** Points of fuel that a cylinder is to be given; 0 where it is well. */
export interface WantedPoints {
	points: number;
	samples: number;
}

/**
 * What each cylinder wants by its lambda under load, as far as the strategy goes at once. Empty where fewer than two were seen.
 * @param towards the good cylinder that the others are brought to; their median without
 */
export function wantedByCylinder(
	evidence: readonly Evidence[],
	cylinders: readonly number[],
	s: Strategy,
	towards?: number
): Map<number, WantedPoints> {
	const seen = new Map(
		cylinders.flatMap((c) => {
			const w = wantedOf(evidence, c, s);
			return w ? [[c, w] as const] : [];
		})
	);
	if (seen.size < 2) return new Map();
	const good = seen.get(towards ?? 0)?.lambda ?? median([...seen.values()].map((w) => w.lambda));
	return new Map(
		[...seen].map(([cylinder, w]) => {
			const wanted = 100 * (w.lambda / good - 1);
			const points =
				Math.abs(wanted) < GOOD_PCT
					? 0
					: wanted > 0
						? Math.min(wanted * s.addShare, s.maxPct)
						: Math.max(wanted * s.removeShare * TAKE_OUT_SHARE, -s.maxRemovePct);
			return [cylinder, { points, samples: w.samples }];
		})
	);
}

function wantedOf(evidence: readonly Evidence[], cylinder: number, s: Strategy): Wanted | null {
	const values: number[] = [];
	let seconds = 0;
	for (const { input } of evidence) {
		const { frame, segments, believed } = input;
		const raw = frame.get(`lambda.cyl${cylinder}`);
		if (!raw) continue;
		const lambda = aligned(raw, frame.timeS, believed.lagS);
		const hidden = near(segments.flags, NO_MIXTURE, frame.timeS, believed.lagS);
		for (let i = 0; i < lambda.length; i++)
			if (lambda[i] === lambda[i] && !hidden[i] && segments.flags[i]! & FLAG.loaded && usable(segments, i)) {
				values.push(lambda[i]!);
				seconds += frame.dtS[i]!;
			}
	}
	if (values.length < s.minSamples || seconds < s.minSeconds - 1e-9) return null;
	return { lambda: median(thinned(values, MEDIAN_OF)), samples: values.length };
}
