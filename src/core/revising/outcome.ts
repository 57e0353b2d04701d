/**
 * Did a change do what it was meant to? Each kind by what it acts on: fuel by the error of the mixture where it was changed, timing by the
 * knock at those engine speeds, boost by its distance from the set point; and what was predicted against what was measured.
 */
import type { LogFields } from '../correction/grid-field.ts';
import { turner } from '../calibration/axes.ts';
import type { Axis, MapItem } from '../calibration/document.ts';
import { STANDARD_KPA } from '../calibration/resample.ts';
import { itemKind, type Measured } from '../calibration/items.ts';
import type { CylinderLevels } from '../screening/cylinder-levels.ts';
import type { PullCurves } from '../evidence/segments/pull-curves.ts';
import type { Replay } from './replay-schema.ts';
import type { DraftChange } from './edit-schema.ts';

export type OutcomeVerdict = 'worked' | 'partly' | 'nothing' | 'worse' | 'not-visited';

export interface Outcome {
	/** Items that were changed for this. */
	items: string[];
	measure: 'mixture' | 'knock' | 'boost' | 'cylinders';
	unit: '%' | '°' | 'kPa';
	/** Cells, pulls or cylinders that both logs saw. */
	places: number;
	/** Mean absolute error of the mixture, highest knock, mean distance from the set point, the cylinder furthest from the others. */
	before: number;
	after: number;
	verdict: OutcomeVerdict;
	/** Engine speeds that it speaks of, where it is about some only. */
	rpm?: [number, number];
}

export interface Prediction {
	what: 'duty' | 'leanest' | 'mixture';
	unit: '%';
	predicted: number;
	measured: number;
	/** Measured less predicted. */
	off: number;
	missed: boolean;
}

/** Error of the mixture over the cells of a table, percent; `null` where a log doesn't know it. */
export interface ErrorMap {
	x: readonly number[];
	y: readonly number[];
	percent: readonly (readonly (number | null)[])[];
}

/** What one log shows: the error of its mixture, and its pulls. */
export interface Shown {
	error: ErrorMap | null;
	pulls: readonly PullCurves[];
	/** Lambda of cylinders against the median of the set under load; missing where no log tells cylinders apart. */
	cylinders?: readonly Pick<CylinderLevels, 'cylinder' | 'lambdaPct' | 'furthestPct'>[];
}

/** Two points are one place up to the rounding of a unit. */
const SAME_PLACE = 1e-6;
/** A cell of a field counts where it is known this well, percent. */
const KNOWN_SD = 2.5;

/** Points of one axis as another one writes them: its own numbers where they are the same places. */
function asWrittenBy(from: Axis, to: Axis | undefined): readonly number[] {
	const turn = to && turner(from, to, STANDARD_KPA);
	if (!turn) return from.points;
	return from.points.map((p) => {
		const v = turn(p);
		return to.points.find((q) => Math.abs(q - v) <= SAME_PLACE * Math.max(1, Math.abs(q))) ?? v;
	});
}

/**
 * The error of a log as its field has it; `null` where it says nothing.
 * @param like the table that was changed, in whose units its cells are named
 */
export function errorMap(fields: LogFields | null, like: MapItem | null = null): ErrorMap | null {
	const { axes, all } = fields ?? { axes: null, all: null };
	return (
		axes &&
		all && {
			x: asWrittenBy({ channel: axes.xChannel, unit: axes.xUnit, points: axes.x }, like?.x),
			y: asWrittenBy({ channel: axes.yChannel, unit: axes.yUnit, points: axes.y }, like?.y),
			percent: all.percent.map((row, r) => row.map((v, c) => (all.sd[r]![c]! <= KNOWN_SD ? v : null)))
		}
	);
}

/** Replayed cells with fewer samples than this say nothing. */
const MIN_SAMPLES = 5;
/** An error this small is as good as it gets: sensors are no better. */
const GOOD_PCT = 2;
/** Retard below this is none; between two logs it varies by this much. */
const QUIET_DEG = 1;
const KNOCK_SCATTER_DEG = 0.5;
/** Boost this near to its set point is on it (the same that a check calls over the set point). */
const GOOD_KPA = 7;
/** A prediction farther off than this has missed: points of duty, percent of lambda. */
const MISSED = { duty: 3, leanest: 2, mixture: 2 } as const;

const errorAt = (map: ErrorMap, x: number, y: number): number | null =>
	map.percent[map.y.indexOf(y)]?.[map.x.indexOf(x)] ?? null;

const mean = (list: readonly number[]) => list.reduce((s, v) => s + v, 0) / Math.max(1, list.length);

/** Error in cells that both logs visited; a point that one of them doesn't have is left out. */
function mixture(
	items: string[],
	wanted: readonly { x: number; y: number }[],
	before: ErrorMap | null,
	after: ErrorMap | null
): Outcome {
	const pairs: [number, number][] = [];
	if (before && after)
		for (const { x, y } of wanted) {
			const [a, b] = [errorAt(before, x, y), errorAt(after, x, y)];
			if (a !== null && b !== null) pairs.push([Math.abs(a), Math.abs(b)]);
		}
	const was = mean(pairs.map((p) => p[0]));
	const is = mean(pairs.map((p) => p[1]));
	return {
		items,
		measure: 'mixture',
		unit: '%',
		places: pairs.length,
		before: was,
		after: is,
		verdict: verdictOf(pairs.length, was, is, GOOD_PCT, 0.5)
	};
}

function verdictOf(
	places: number,
	before: number,
	after: number,
	good: number,
	scatter: number
): OutcomeVerdict {
	if (places === 0) return 'not-visited';
	if (after > before + scatter && after > good) return 'worse';
	if (after <= Math.max(good, before * 0.35)) return 'worked';
	return after <= before * 0.75 ? 'partly' : 'nothing';
}

/** Values of a curve of the pulls between two engine speeds. */
function within(pulls: readonly PullCurves[], name: string, rpm: readonly [number, number]): number[] {
	return pulls.flatMap((p) =>
		(p.curves[name] ?? []).filter(
			(v, i): v is number => v !== null && p.rpm[i]! >= rpm[0] && p.rpm[i]! <= rpm[1]
		)
	);
}

const ALL_RPM: [number, number] = [0, Infinity];

/** Engine speeds that changed cells act on: to halfway towards their neighbours would be too narrow, a whole step is safe. */
function rpmOf(changes: readonly DraftChange[], axis: readonly number[] | null): [number, number] {
	if (!axis) return ALL_RPM;
	const at = changes.map((c) => axis.indexOf(c.x)).filter((i) => i >= 0);
	if (at.length === 0) return ALL_RPM;
	return [axis[Math.max(0, Math.min(...at) - 1)]!, axis[Math.min(axis.length - 1, Math.max(...at) + 1)]!];
}

function knock(
	changes: readonly DraftChange[],
	axis: readonly number[] | null,
	before: Shown,
	after: Shown
): Outcome {
	const rpm = rpmOf(changes, axis);
	const [a, b] = [within(before.pulls, 'knock', rpm), within(after.pulls, 'knock', rpm)];
	const places = a.length && b.length ? after.pulls.length : 0;
	const [was, is] = [Math.max(0, ...a), Math.max(0, ...b)];
	return {
		items: [...new Set(changes.map((c) => c.item))],
		measure: 'knock',
		unit: '°',
		places,
		before: was,
		after: is,
		verdict: verdictOf(places, was, is, QUIET_DEG, KNOCK_SCATTER_DEG),
		...(rpm === ALL_RPM ? {} : { rpm })
	};
}

function boost(changes: readonly DraftChange[], before: Shown, after: Shown): Outcome {
	const offOf = (pulls: readonly PullCurves[]) =>
		pulls.flatMap((p) =>
			(p.curves['map'] ?? []).flatMap((v, i) => {
				const set = p.curves['boostTarget']?.[i];
				// Before the turbine is up to speed the distance says nothing of the control.
				return v !== null && typeof set === 'number' && v > 0.85 * set ? [Math.abs(v - set)] : [];
			})
		);
	const [a, b] = [offOf(before.pulls), offOf(after.pulls)];
	const places = a.length && b.length ? after.pulls.length : 0;
	return {
		items: [...new Set(changes.map((c) => c.item))],
		measure: 'boost',
		unit: 'kPa',
		places,
		before: mean(a),
		after: mean(b),
		verdict: verdictOf(places, mean(a), mean(b), GOOD_KPA, 3)
	};
}

/** The trimmed cylinder that is furthest from the others. A trim by speed stands under its cylinder on either axis: whole numbers that both logs name. */
function cylinders(changes: readonly DraftChange[], before: Shown, after: Shown): Outcome {
	const named = new Set(changes.flatMap((c) => [c.x, c.y]));
	const pairs = (before.cylinders ?? []).flatMap((b) => {
		const a = after.cylinders?.find((c) => c.cylinder === b.cylinder);
		const [was, is] = [b, a].map((c) => c?.furthestPct ?? c?.lambdaPct ?? null);
		return named.has(b.cylinder) && was != null && is != null ? [[was, is] as const] : [];
	});
	const furthest = (list: number[]) => Math.max(0, ...list.map(Math.abs));
	const [was, is] = [furthest(pairs.map((p) => p[0])), furthest(pairs.map((p) => p[1]))];
	return {
		items: [...new Set(changes.map((c) => c.item))],
		measure: 'cylinders',
		unit: '%',
		places: pairs.length,
		before: was,
		after: is,
		verdict: verdictOf(pairs.length, was, is, GOOD_PCT, 0.5)
	};
}

/**
 * Outcome of each kind of change of a revision; kinds that no log can judge (limits, settings) have none.
 * @param before the log that the changes were made from
 * @param after a log made with the revision
 * @param rpmAxis engine speed axis of an item of the revision; null where it has none
 */
export function outcomesOf(
	changes: readonly DraftChange[],
	before: Shown,
	after: Shown,
	rpmAxis: (item: string) => readonly number[] | null
): Outcome[] {
	const of = (measured: Measured) => changes.filter((c) => itemKind(c.item)?.measured === measured);
	const items = (list: readonly DraftChange[]) => [...new Set(list.map((c) => c.item))];
	const out: Outcome[] = [];
	const cellwise = of('cells');
	// Members of a blend stand on the same cells: each cell counts once.
	const cells = [...new Map(cellwise.map((c) => [`${c.x}|${c.y}`, { x: c.x, y: c.y }])).values()];
	if (cellwise.length) out.push(mixture(items(cellwise), cells, before.error, after.error));
	const trimmed = of('cylinders');
	if (trimmed.length) out.push(cylinders(trimmed, before, after));
	const overall = of('overall');
	if (overall.length) {
		const everywhere = (after.error?.y ?? []).flatMap((y) => after.error!.x.map((x) => ({ x, y })));
		out.push(mixture(items(overall), everywhere, before.error, after.error));
	}
	const timing = of('knock');
	if (timing.length) out.push(knock(timing, rpmAxis(timing[0]!.item), before, after));
	const raised = of('boost');
	if (raised.length) out.push(boost(raised, before, after));
	return out;
}

/** The overall word for a revision: the worst of what was visited. */
export function overallVerdict(outcomes: readonly Outcome[]): OutcomeVerdict {
	const order: OutcomeVerdict[] = ['worse', 'nothing', 'partly', 'worked'];
	return order.find((v) => outcomes.some((o) => o.verdict === v)) ?? 'not-visited';
}

/**
 * What the replay of the revision promised for the log that it was made from, against what a log made with it shows. Pulls are
 * compared in gears that both have.
 */
export function predictionsOf(replay: Replay, after: Shown): Prediction[] {
	const gears = new Set(after.pulls.map((p) => p.gear ?? 0));
	const common = replay.pulls.filter((p) => gears.has(p.gear ?? 0));
	const there = new Set(common.map((p) => p.gear ?? 0));
	const driven = after.pulls.filter((p) => there.has(p.gear ?? 0));
	const most = (list: (number | null | undefined)[]) => {
		const known = list.filter((v): v is number => typeof v === 'number');
		return known.length ? Math.max(...known) : null;
	};
	const out: Prediction[] = [];
	const compare = (what: Prediction['what'], predicted: number | null, measured: number | null) => {
		if (predicted === null || measured === null) return;
		const off = measured - predicted;
		out.push({ what, unit: '%', predicted, measured, off, missed: Math.abs(off) > MISSED[what] });
	};
	compare('duty', most(common.map((p) => p.summary.dutyPct[1])), most(driven.map((p) => p.summary.dutyPct)));
	compare(
		'leanest',
		most(common.map((p) => p.summary.leanestPct[1])),
		most(driven.map((p) => p.summary.leanestPct))
	);
	const { map } = replay;
	const { error } = after;
	if (map && error) {
		const pairs = map.y.flatMap((y, r) =>
			map.x.flatMap((x, c) => {
				const predicted = map.after[r]![c] ?? null;
				const measured = errorAt(error, x, y);
				return predicted === null || measured === null || (map.samples[r]![c] ?? 0) < MIN_SAMPLES
					? []
					: [[Math.abs(predicted), Math.abs(measured)] as const];
			})
		);
		if (pairs.length) compare('mixture', mean(pairs.map((p) => p[0])), mean(pairs.map((p) => p[1])));
	}
	return out;
}
