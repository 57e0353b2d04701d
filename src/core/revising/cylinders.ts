/**
 * Proposal for the fuel trims of the cylinders, from lambda per cylinder while loaded: what a cylinder needs against the median of the
 * set is added to what is already in its trim (common practice: +3 % becomes +5 % when 2 % is wanted, −2 % becomes 0).
 */
import { FLAG, NO_MIXTURE } from '../evidence/segments/kinds.ts';
import { decimalsOf, findCurve, roundTo, type Calibration } from '../calibration/document.ts';
import { aligned } from '../evidence/lambda/lag.ts';
import { near } from '../evidence/lambda/believed.ts';
import { usable } from '../evidence/lambda/required.ts';
import { certainly, placesOf, type Place } from '../evidence/cells/places.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { signed } from '../format.ts';
import type { Evidence } from '../correction/evidence.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';
import { TAKE_OUT_SHARE, type Strategy } from '../correction/strategy.ts';

const ITEM = 'fuel.cylTrim';
/** Cylinders within this of the median are left alone, in percent. */
const GOOD_PCT = 1;

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
		if (r?.richAtRpm)
			held.push({
				item: ITEM,
				code: 'cyl.lambda',
				reason: `cylinder ${cylinder} is rich between ${r.richAtRpm[0]} and ${r.richAtRpm[1]} rpm and not elsewhere: one trim for all speeds can't take that out without leaning it there`
			});
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
	if (cells.length === 0) return { change: null, held };
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

/** Points of fuel that a cylinder is to be given; 0 where it is well. */
export interface WantedPoints {
	points: number;
	samples: number;
	/** Engine speeds at which it is certainly rich while one number can take nothing out: at another speed it needs what it has. */
	richAtRpm: [number, number] | null;
}

/**
 * What each cylinder wants by its lambda under load, as far as the strategy goes at once. A cylinder has one number for all speeds: added is
 * what its leanest certain speed needs, taken out only what is surplus at every speed that was driven. Empty where fewer than two were seen.
 * @param towards the good cylinder that the others are brought to; their median, sample by sample, without
 */
export function wantedByCylinder(
	evidence: readonly Evidence[],
	cylinders: readonly number[],
	s: Strategy,
	towards?: number
): Map<number, WantedPoints> {
	const seen = cylinders.filter((c) => evidence.some((e) => e.input.frame.has(`lambda.cyl${c}`)));
	if (seen.length < 2) return new Map();
	const out = new Map<number, WantedPoints>();
	const off = evidence.map(({ input }) => offBySample(input, seen, towards));
	seen.forEach((cylinder, k) => {
		const places = evidence.flatMap(({ input }, e) => placesUnderLoad(input, off[e]![k]!));
		const samples = off.reduce((n, of) => n + of[k]!.reduce((c, v) => c + (v === v ? 1 : 0), 0), 0);
		const seconds = evidence.reduce(
			(sum, { input }, e) =>
				sum + off[e]![k]!.reduce((t, v, i) => t + (v === v ? input.frame.dtS[i]! : 0), 0),
			0
		);
		if (samples < s.minSamples || seconds < s.minSeconds - 1e-9 || places.length === 0) return;
		out.set(cylinder, { ...pointsFor(places, s), samples });
	});
	return out.size < 2 ? new Map() : out;
}

function pointsFor(places: readonly Place[], s: Strategy): Omit<WantedPoints, 'samples'> {
	const lean = places.filter((p) => certainly(p) > 0).reduce((most, p) => Math.max(most, p.mean), 0);
	if (lean >= GOOD_PCT) return { points: Math.min(lean * s.addShare, s.maxPct), richAtRpm: null };
	// Surplus everywhere: the least of it, on the safe side of its own scatter.
	const surplus = Math.max(...places.map((p) => p.mean + p.se));
	if (surplus <= -GOOD_PCT)
		return { points: Math.max(surplus * s.removeShare * TAKE_OUT_SHARE, -s.maxRemovePct), richAtRpm: null };
	const rich = places.filter((p) => certainly(p) <= -GOOD_PCT);
	return {
		points: 0,
		richAtRpm: rich.length
			? [Math.min(...rich.map((p) => p.rpm[0])), Math.max(...rich.map((p) => p.rpm[1]))]
			: null
	};
}

const placesUnderLoad = ({ frame, segments }: Prepared, value: Float32Array): Place[] =>
	placesOf({
		rpm: frame.get('rpm') ?? new Float32Array(frame.length),
		value,
		band: Uint8Array.from(segments.flags, (f, i) => (f & FLAG.loaded && usable(segments, i) ? 0 : 255)),
		timeS: frame.timeS,
		dtS: frame.dtS
	});

/** Of each cylinder, percent leaner than the good one or the median of all at the same moment; NaN where nothing can be said. */
function offBySample(input: Prepared, cylinders: readonly number[], towards?: number): Float32Array[] {
	const { frame, segments, believed } = input;
	const hidden = near(segments.flags, NO_MIXTURE, frame.timeS, believed.lagS);
	const lambdas = cylinders.map((c) => {
		const raw = frame.get(`lambda.cyl${c}`);
		return raw && aligned(raw, frame.timeS, believed.lagS);
	});
	const good = cylinders.indexOf(towards ?? 0);
	const out = cylinders.map(() => new Float32Array(frame.length).fill(Number.NaN));
	const row: number[] = [];
	for (let i = 0; i < frame.length; i++) {
		if (hidden[i] || !(segments.flags[i]! & FLAG.loaded) || !usable(segments, i)) continue;
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
