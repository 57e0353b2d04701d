/**
 * Proposal for the fuel trims of the cylinders, from lambda per cylinder while loaded: what a cylinder needs against the median of the
 * set is added to what is already in its trim (common practice: +3 % becomes +5 % when 2 % is wanted, −2 % becomes 0).
 */
import { FLAG } from '../evidence/segments/kinds.ts';
import { turner } from '../calibration/axes.ts';
import { cylinderTrims, trimCell, type CylinderTrims } from '../calibration/cylinder-trims.ts';
import type { Axis, Calibration, CurveItem } from '../calibration/document.ts';
import { decimalsOf, roundTo } from '../calibration/lookup.ts';
import { STANDARD_KPA } from '../calibration/resample.ts';
import { aligned } from '../evidence/lambda/lag.ts';
import { usable } from '../evidence/lambda/required.ts';
import { certainly, type Place } from '../evidence/cells/places.ts';
import { placesUnderLoad } from '../evidence/cells/under-load.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { signed } from '../format.ts';
import type { Evidence } from '../correction/evidence.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';
import { TAKE_OUT_SHARE, type Strategy } from '../correction/strategy.ts';

const ITEM = 'fuel.cylTrim';
/** Cylinders within this of the median are left alone, in percent. */
const GOOD_PCT = 1;
/** Width of a place, and how far beyond its last point a trim is looked for. */
const PLACE_RPM = 500;

/** New trim of a cylinder that wants `wantedPct` more fuel than its trim of `trimPct` gives, both in percent of the common fuel. */
export function addedTrimPct(trimPct: number, wantedPct: number): number {
	return trimPct + wantedPct;
}

export interface CylinderProposal {
	change: ItemProposal | null;
	/** The same as an item that the calibration hasn't: chosen by a person, who knows whether the controller has it. */
	offer: ItemProposal | null;
	held: Held[];
}

/** @param base the revision that is to be changed; what a cylinder wants is added to the trim that its log was made with */
export function proposeCylinders(
	evidence: readonly Evidence[],
	base: Calibration | null,
	s: Strategy
): CylinderProposal {
	const none: CylinderProposal = { change: null, offer: null, held: [] };
	const now = base && cylinderTrims(base, ITEM);
	const trims = now ?? untrimmed(evidence[0]?.input);
	if (!base || !trims) return none;
	const made = evidence[0]?.input.calibration;
	const driven = (made && cylinderTrims(made, ITEM)) ?? trims;
	const wants = wantedByCylinder(evidence, trims.cylinders, s, undefined, trims.by);
	if (wants.size === 0) return none;
	const findings = evidence.flatMap((e) => e.findings);
	const banks = findings.find(
		(f) => f.code === 'bank.mismatch' && (f.severity === 'stop' || f.severity === 'fix')
	);
	if (banks)
		return {
			...none,
			held: [
				{
					item: ITEM,
					code: banks.code,
					reason: `${banks.title}: trims of cylinders would hide it; find the cause first`
				}
			]
		};
	const held: Held[] = [];
	const cells: CellChange[] = [];
	for (const [k, cylinder] of trims.cylinders.entries()) {
		const r = wants.get(cylinder);
		if (!r) continue;
		if (r.richAtRpm)
			held.push({
				item: ITEM,
				code: 'cyl.lambda',
				reason: `cylinder ${cylinder} is rich between ${r.richAtRpm[0]} and ${r.richAtRpm[1]} rpm and not elsewhere: one trim for all speeds can't take that out without leaning it there`
			});
		if (r.points.every((p) => p === 0)) continue;
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
			continue;
		}
		const then = driven.values[driven.cylinders.indexOf(cylinder)];
		r.points.forEach((points, at) => {
			const from = trims.values[k]![at]!;
			const to = heldIn(trims.item, addedTrimPct(then?.[at] ?? from, points));
			if (points !== 0 && to !== from)
				cells.push({
					...trimCell(trims, cylinder, at),
					from,
					to,
					basis: 'measured',
					samples: r.samples,
					se: null
				});
		});
	}
	if (cells.length === 0) return { ...none, held };
	const proposal: ItemProposal = {
		item: ITEM,
		cells,
		reason: `Lambda per cylinder under load against the median of the set: ${byCylinder(trims, cells).join(', ')}`,
		findings: [...new Set(findings.filter((f) => f.code === 'cyl.lambda').map((f) => f.code))]
	};
	return now
		? { change: proposal, offer: null, held }
		: { change: null, offer: { ...proposal, kind: 'missing', adds: trims.item }, held };
}

/** The item as it would stand in a calibration that has none: nothing trimmed yet. */
function untrimmed(input: Prepared | undefined): CylinderTrims | null {
	if (!input) return null;
	const points = Array.from({ length: input.vehicle.engine.cylinders }, (_, k) => k + 1);
	const item: CurveItem = {
		id: ITEM,
		kind: 'curve',
		unit: '%',
		decimals: 1,
		x: { channel: 'cylinder', points },
		values: points.map(() => 0)
	};
	return { item, cylinders: points, by: null, values: points.map(() => [0]) };
}

const heldIn = (item: CylinderTrims['item'], v: number) =>
	roundTo(Math.min(item.max ?? Infinity, Math.max(item.min ?? -Infinity, v)), decimalsOf(item));

/** "cylinder 4 +2.0 points", of one that goes by speed or load the most and the least. */
function byCylinder(trims: CylinderTrims, cells: readonly CellChange[]): string[] {
	return trims.cylinders.flatMap((cylinder, k) => {
		const own = new Set(trims.values[k]!.map((_, at) => cellKey(trimCell(trims, cylinder, at))));
		const moved = cells.filter((c) => own.has(cellKey(c))).map((c) => c.to - c.from);
		if (moved.length === 0) return [];
		const [least, most] = [Math.min(...moved), Math.max(...moved)];
		return `cylinder ${cylinder} ${least === most ? signed(most) : `${signed(least)} to ${signed(most)}`} points`;
	});
}
const cellKey = ({ x, y }: { x: number; y: number }) => `${x}|${y}`;

/**
 * What stays of a proposal where nothing may be taken out of a cylinder: it knocks, or nobody knows whether the mixture of the rest is right.
 * @param why nothing may come out; `null` where it may
 */
export function withoutRemoval(p: CylinderProposal, why: string | null): CylinderProposal {
	if (why === null || !p.change) return p;
	const cells = p.change.cells.filter((c) => c.to > c.from);
	if (cells.length === p.change.cells.length) return p;
	return {
		...p,
		change: cells.length ? { ...p.change, cells } : null,
		held: [...p.held, { item: ITEM, reason: `taking fuel out of single cylinders: ${why}` }]
	};
}

/** Percent that each cylinder certainly gets by a proposal: the least of it, where that goes by speed or load. */
export function raisedPct(p: CylinderProposal, base: Calibration | null): Map<number, number> {
	const out = new Map<number, number>();
	const trims = base && cylinderTrims(base, ITEM);
	if (!p.change || !trims) return out;
	const to = new Map(p.change.cells.map((c) => [cellKey(c), c.to]));
	trims.cylinders.forEach((cylinder, k) => {
		const points = trims.values[k]!.map(
			(from, at) => (to.get(cellKey(trimCell(trims, cylinder, at))) ?? from) - from
		);
		out.set(cylinder, Math.min(...points));
	});
	return out;
}

/** Points of fuel that a cylinder is to be given, one per point that its trims go by (one without); 0 where it is well. */
export interface WantedPoints {
	points: number[];
	samples: number;
	/** Engine speeds at which it is certainly rich while one number can take nothing out: at another speed it needs what it has. */
	richAtRpm: [number, number] | null;
}

/**
 * What each cylinder wants by its lambda under load, as far as the strategy goes at once. A cylinder has one number for all speeds: added is
 * what its leanest certain speed needs, taken out only what is surplus at every speed that was driven. Empty where fewer than two were seen.
 * @param towards the good cylinder that the others are brought to; their median, sample by sample, without
 * @param by what the trims go by beside the cylinder: by engine speed each point has its own need, by anything else all have that of all speeds
 */
export function wantedByCylinder(
	evidence: readonly Evidence[],
	cylinders: readonly number[],
	s: Strategy,
	towards?: number,
	by: Axis | null = null
): Map<number, WantedPoints> {
	const seen = cylinders.filter((c) => evidence.some((e) => e.input.frame.has(`lambda.cyl${c}`)));
	if (seen.length < 2) return new Map();
	const out = new Map<number, WantedPoints>();
	const off = evidence.map(({ input }) => offBySample(input, seen, towards));
	const own = evidence.map(({ input }) => offTarget(input, seen));
	seen.forEach((cylinder, k) => {
		const under = (values: readonly Float32Array[][]) =>
			evidence.flatMap(({ input }, e) => placesUnderLoad(input, values[e]![k]!));
		const places = under(off);
		const absolute = under(own);
		let samples = 0;
		let seconds = 0;
		for (const [e, { input }] of evidence.entries()) {
			const values = off[e]![k]!;
			for (let i = 0; i < values.length; i++) {
				if (values[i] !== values[i]) continue;
				samples++;
				seconds += input.frame.dtS[i]!;
			}
		}
		if (samples < s.minSamples || seconds < s.minSeconds - 1e-9 || places.length === 0) return;
		out.set(cylinder, {
			...(by ? pointsBy(by, places, absolute, s) : pointsFor(places, absolute, s)),
			samples
		});
	});
	return out.size < 2 ? new Map() : out;
}

/** Each point of engine speed by the places around it; points that nobody drove at stay as they are. */
function pointsBy(
	by: Axis,
	places: readonly Place[],
	own: readonly Place[],
	s: Strategy
): Omit<WantedPoints, 'samples'> {
	const toRpm = turner(by, { channel: 'rpm' }, STANDARD_KPA);
	if (!toRpm) return { points: by.points.map(() => pointsFor(places, own, s).points[0]!), richAtRpm: null };
	const at = by.points.map(toRpm);
	return {
		points: at.map((rpm, i) => {
			const low = (rpm + (at[i - 1] ?? rpm - PLACE_RPM)) / 2;
			const high = (rpm + (at[i + 1] ?? rpm + PLACE_RPM)) / 2;
			const around = (list: readonly Place[]) => list.filter((p) => p.rpm[1] > low && p.rpm[0] < high);
			return around(places).length ? pointsFor(around(places), around(own), s).points[0]! : 0;
		}),
		richAtRpm: null
	};
}

/**
 * @param places how much leaner than the others it is
 * @param own how much leaner than its target: while all of them are lean, the richest one keeps what it has
 */
function pointsFor(
	places: readonly Place[],
	own: readonly Place[],
	s: Strategy
): Omit<WantedPoints, 'samples'> {
	const lean = places.filter((p) => certainly(p) > 0).reduce((most, p) => Math.max(most, p.mean), 0);
	if (lean >= GOOD_PCT) return { points: [Math.min(lean * s.addShare, s.maxPct)], richAtRpm: null };
	// Surplus everywhere: the least of it, on the safe side of its own scatter.
	const surplus = Math.max(...places.map((p) => p.mean + p.se));
	const spare = own.length ? Math.max(...own.map((p) => p.mean + p.se)) : 0;
	if (surplus <= -GOOD_PCT && spare <= -GOOD_PCT)
		return {
			points: [Math.max(surplus * s.removeShare * TAKE_OUT_SHARE, spare, -s.maxRemovePct)],
			richAtRpm: null
		};
	const rich = surplus <= -GOOD_PCT ? [] : places.filter((p) => certainly(p) <= -GOOD_PCT);
	return {
		points: [0],
		richAtRpm: rich.length
			? [Math.min(...rich.map((p) => p.rpm[0])), Math.max(...rich.map((p) => p.rpm[1]))]
			: null
	};
}

/** Of each cylinder, percent leaner than its target; NaN where that or its mixture isn't known. */
function offTarget(input: Prepared, cylinders: readonly number[]): Float32Array[] {
	const { frame, believed, target } = input;
	return cylinders.map((c) => {
		const raw = frame.get(`lambda.cyl${c}`);
		if (!raw || !target.values) return new Float32Array(frame.length).fill(Number.NaN);
		return aligned(raw, frame.timeS, believed.lagS).map((l, i) =>
			l > 0 && !believed.hidden[i] ? 100 * (l / target.values![i]! - 1) : Number.NaN
		);
	});
}

/** Of each cylinder, percent leaner than the good one or the median of all at the same moment; NaN where nothing can be said. */
function offBySample(input: Prepared, cylinders: readonly number[], towards?: number): Float32Array[] {
	const { frame, segments, believed } = input;
	const lambdas = cylinders.map((c) => {
		const raw = frame.get(`lambda.cyl${c}`);
		return raw && aligned(raw, frame.timeS, believed.lagS);
	});
	const good = cylinders.indexOf(towards ?? 0);
	const out = cylinders.map(() => new Float32Array(frame.length).fill(Number.NaN));
	const row: number[] = [];
	for (let i = 0; i < frame.length; i++) {
		if (believed.hidden[i] || !(segments.flags[i]! & FLAG.loaded) || !usable(segments, i)) continue;
		row.length = 0;
		for (const l of lambdas) if (l && l[i]! > 0) row.push(l[i]!);
		if (row.length < 2) continue;
		const reference = good >= 0 ? (lambdas[good]?.[i] ?? Number.NaN) : middleOf(row);
		lambdas.forEach((l, k) => {
			if (l && l[i]! > 0) out[k]![i] = 100 * (l[i]! / reference - 1);
		});
	}
	return out;
}

/** Middle of a few values, which are put in order. */
function middleOf(row: number[]): number {
	row.sort((a, b) => a - b);
	const n = row.length;
	return n % 2 ? row[n >> 1]! : (row[(n >> 1) - 1]! + row[n >> 1]!) / 2;
}
