/**
 * Replay: a log as it would have been with another revision, for a reader: pulls before and after, the map of what stays off, what goes
 * beyond a limit, where the change goes and no data is. What the air, the knock and the boost would do, no replay can know; that is said.
 */
import { canonical } from '../calibration/canonical.ts';
import { fixed } from '../format.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { axisChannel } from '../calibration/axes.ts';
import { canonicalDelta, compare } from '../calibration/compare.ts';
import type { Calibration } from '../calibration/document.ts';
import { findItem, numberOf } from '../calibration/lookup.ts';
import { otherInjectors } from '../calibration/fuel-along.ts';
import { actsOn, baseOf, type Acts } from '../calibration/items.ts';
import { InputError } from '../input-error.ts';
import { nearestCells } from '../evidence/cells/stats.ts';
import { usable } from '../evidence/lambda/required.ts';
import { ambientOf } from '../evidence/ambient.ts';
import { boostControlOf, worstDayAir } from '../screening/checks/worst-day.ts';
import { grade } from '../screening/types.ts';
import { derived } from '../logfile/columns.ts';
import { rpmBins } from '../evidence/segments/rpm-bins.ts';
import { bankCount } from '../vehicle/facts.ts';
import { estimate } from '../correction/estimate.ts';
import { nodesOf } from '../correction/nodes.ts';
import { measuredNodes } from '../correction/rules.ts';
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';
import { predict, type Predicted } from './predict.ts';
import { replayCylinders } from './replay-cylinders.ts';
import type { Replay } from './replay-schema.ts';

const BIN_RPM = 250;
const LEFT_PCT = 3;

const round = (v: number, decimals: number) => (Number.isFinite(v) ? Number(fixed(v, decimals)) : null);

/**
 * The log of `input` (made with `input.calibration`) with the revision `next`.
 * @throws InputError when mixture, target or the channels of the fuel tables aren't in the log, or the fuel models differ
 */
export function replay(input: Prepared, following: Calibration): Replay {
	const now = input.calibration;
	const next = canonical(following);
	if (!now) throw new InputError('it is not known which revision the log was made with');
	if (now.fuelModel !== next.fuelModel)
		throw new InputError(
			`the fuel models differ (${now.fuelModel}, then ${next.fuelModel}): a log of one says nothing about the other`
		);
	const p = predict(input, now, next);
	const { frame, segments, profile } = input;
	const rpm = frame.get('rpm');
	const worst = worstDay(input);
	// Of two banks the leaner one is what a pull is judged by. Columns once, not once per pull, and where there are pulls.
	const leaner = ([first, second]: Float32Array[]) =>
		second
			? derived(
					first!,
					(v, i) => (v !== v ? second[i]! : second[i] === second[i] ? Math.max(v, second[i]!) : v),
					segments.pulls
				)
			: first!;
	const lambdaBefore = leaner(p.lambdaBefore);
	const lambdaAfter = leaner(p.lambdaAfter);
	const off = (lambda: Float32Array, goal: Float32Array) =>
		derived(lambda, (l, i) => 100 * (l / goal[i]! - 1), segments.pulls);
	const offBefore = off(lambdaBefore, p.targetBefore);
	const offAfter = off(lambdaAfter, p.targetAfter);
	const fuelPct = derived(p.fuelRatio, (r) => 100 * (r - 1), segments.pulls);
	const onWorstDay = (values: Float32Array | null) =>
		values && worst ? derived(values, (v, i) => v * worst[i]!, segments.pulls) : null;
	const worstBefore = onWorstDay(p.dutyBefore);
	const worstAfter = onWorstDay(p.dutyAfter);
	const pulls = segments.pulls.flatMap((pull) => {
		if (!rpm) return [];
		const bins = rpmBins(rpm, pull, BIN_RPM);
		const centres = bins.lows.map((r) => r + BIN_RPM / 2);
		const mean = (values: Float32Array | null, decimals: number): (number | null)[] =>
			values
				? bins.mean(values).map((v) => (v === null ? null : round(v, decimals)))
				: centres.map(() => null);
		const most = (list: (number | null)[]) => {
			const there = list.filter((v): v is number => v !== null);
			return there.length ? Math.max(...there) : null;
		};
		const duty = (values: Float32Array | null) => most(mean(values, 1));
		return [
			{
				from: Number(fixed(pull.fromS, 3)),
				to: Number(fixed(pull.toS, 3)),
				...(pull.gear ? { gear: pull.gear } : {}),
				rpm: centres,
				target: { before: mean(p.targetBefore, 3), after: mean(p.targetAfter, 3) },
				lambda: { before: mean(lambdaBefore, 3), after: mean(lambdaAfter, 3) },
				spark: { before: mean(p.sparkBefore, 1), after: mean(p.sparkAfter, 1) },
				duty: { before: mean(p.dutyBefore, 1), after: mean(p.dutyAfter, 1) },
				fuelPct: mean(fuelPct, 2),
				summary: {
					leanestPct: [most(mean(offBefore, 2)), most(mean(offAfter, 2))] as [number | null, number | null],
					leanestLambda: [most(mean(lambdaBefore, 3)), most(mean(lambdaAfter, 3))] as [
						number | null,
						number | null
					],
					sparkMaxDeg: [most(mean(p.sparkBefore, 1)), most(mean(p.sparkAfter, 1))] as [
						number | null,
						number | null
					],
					dutyPct: [duty(p.dutyBefore), duty(p.dutyAfter)] as [number | null, number | null],
					dutyWorstDayPct: [duty(worstBefore), duty(worstAfter)] as [number | null, number | null]
				}
			}
		];
	});
	const map = errorMap(input, p, now);
	const cylinders = replayCylinders(input, p, now, next);
	return {
		schema: 'tanto.replay/1',
		pulls,
		map,
		left: leftOver(input, next),
		...(cylinders.length ? { cylinders } : {}),
		unproven: unproven(input, now, following),
		beyond: beyond(pulls, profile, p, input, cylinders),
		unknown: unknowable(input, now, next)
	};
}

/** Factor on the duty per sample on the worst day; `null` without intake air. */
function worstDay(input: Prepared): Float32Array | null {
	const { frame, profile, segments, vehicle } = input;
	const iat = frame.get('iat');
	if (!iat) return null;
	const ambient = ambientOf(input);
	const map = frame.get('map');
	const control = boostControlOf(vehicle);
	const { baroKpa } = segments;
	return derived(
		iat,
		(iatC, i) =>
			worstDayAir(control, { mapKpa: map?.[i] ?? baroKpa, iatC, ambientC: ambient, baroKpa }, profile),
		segments.pulls
	);
}

function errorMap(input: Prepared, p: Predicted, now: Calibration): Replay['map'] {
	const { frame, axes, segments } = input;
	const x = axisChannel(frame, { channel: axes.xChannel, unit: axes.xUnit }, segments.baroKpa);
	const y = axisChannel(frame, { channel: axes.yChannel, unit: axes.yUnit }, segments.baroKpa);
	if (!x || !y) return null;
	const use = new Uint8Array(frame.length);
	for (let i = 0; i < use.length; i++) use[i] = usable(segments, i) ? 1 : 0;
	const cell = nearestCells({ axes, x, y, value: p.left, use });
	const count = axes.x.length * axes.y.length;
	const n = new Int32Array(count);
	const before = new Float64Array(count);
	const after = new Float64Array(count);
	for (let i = 0; i < cell.length; i++) {
		const c = cell[i]!;
		if (c < 0) continue;
		n[c]!++;
		after[c]! += p.left[i]!;
		// What was off before is what is left, with the fuel of before and its own target.
		before[c]! += (p.left[i]! * p.fuelRatio[i]! * p.targetAfter[i]!) / p.targetBefore[i]!;
	}
	const rows = <T>(of: (c: number) => T): T[][] =>
		axes.y.map((_, r) => axes.x.map((__, k) => of(r * axes.x.length + k)));
	const percent = (sum: Float64Array) => rows((c) => (n[c] ? round(100 * (sum[c]! / n[c]! - 1), 2) : null));
	return {
		item: nodesOf(now).tables[0]?.id ?? 'fuel.table',
		xChannel: axes.xChannel,
		...(axes.xUnit === undefined ? {} : { xUnit: axes.xUnit }),
		yChannel: axes.yChannel,
		...(axes.yUnit === undefined ? {} : { yUnit: axes.yUnit }),
		x: axes.x,
		y: axes.y,
		before: percent(before),
		after: percent(after),
		samples: rows((c) => n[c]!)
	};
}

/** Cells of the fuel table that stay off with the next revision, as the field of this log has it: the worst first. */
function leftOver(input: Prepared, next: Calibration): Replay['left'] {
	const r = estimate([{ input, findings: [] }], next, {
		strategy: DEFAULT_STRATEGY,
		noRemoval: false,
		feedLeaner: false
	});
	if (!r) return [];
	const measured = measuredNodes(r.field, DEFAULT_STRATEGY);
	return r.nodes.tables
		.flatMap((t) =>
			t.rows.flatMap((row, k) =>
				row.flatMap((_, c) => {
					const i = t.first + k * t.nx + c;
					const errorPct = 100 * r.field.d[i]!;
					return measured[i] && Math.abs(errorPct) > LEFT_PCT
						? [
								{
									x: t.x.points[c]!,
									y: t.y?.points[k] ?? 0,
									errorPct: Number(fixed(errorPct, 2)),
									samples: Math.round(r.field.support[i]!)
								}
							]
						: [];
				})
			)
		)
		.sort((a, b) => Math.abs(b.errorPct) - Math.abs(a.errorPct));
}

/** Tables of which cells changed that no sample of the log comes near: where the new revision goes and no data is. */
function unproven(input: Prepared, now: Calibration, following: Calibration): Replay['unproven'] {
	const { frame, segments } = input;
	return canonical(following).items.flatMap((item) => {
		if (item.kind !== 'map' && item.kind !== 'curve') return [];
		const [old, own] = [findItem(now, item.id), findItem(following, item.id)];
		if (old?.kind !== item.kind || own?.kind !== item.kind) return [];
		const x = axisChannel(frame, item.x, segments.baroKpa);
		const y =
			item.kind === 'map' ? axisChannel(frame, item.y, segments.baroKpa) : new Float32Array(frame.length);
		const delta = canonicalDelta(old, own, { a: old, b: item }, segments.baroKpa).flat();
		const changed = delta.flatMap((d, i) => (d === 0 ? [] : [i]));
		if (changed.length === 0) return [];
		if (!x || !y) return [{ item: item.id, cells: changed.length }];
		const cell = nearestCells({
			axes: { xChannel: '', x: item.x.points, yChannel: '', y: item.kind === 'map' ? item.y.points : [0] },
			x,
			y,
			value: x
		});
		const visited = new Uint8Array(delta.length);
		for (let i = 0; i < cell.length; i++) if (cell[i]! >= 0) visited[cell[i]!] = 1;
		const cells = changed.filter((c) => !visited[c]).length;
		return cells ? [{ item: item.id, cells }] : [];
	});
}

function beyond(
	pulls: Replay['pulls'],
	profile: Prepared['profile'],
	p: Predicted,
	input: Prepared,
	cylinders: NonNullable<Replay['cylinders']>
): Replay['beyond'] {
	const out: Replay['beyond'] = [];
	const highest = (of: (s: Replay['pulls'][number]['summary']) => number | null) =>
		Math.max(...pulls.map((pull) => of(pull.summary) ?? -Infinity));
	/** A severity of stop, fix or watch, where a value is beyond one of three limits. */
	const judge = (what: string, value: number, limits: Parameters<typeof grade>[1]) => {
		const graded = grade(value, limits);
		if (graded && graded.severity !== 'note')
			out.push({ what, value, limit: graded.limit, unit: '%', severity: graded.severity });
	};
	judge(
		'leanest of a pull against its target',
		highest((s) => s.leanestPct[1]),
		{
			watch: profile.leanWatchPct,
			fix: profile.leanFixPct,
			stop: profile.leanStopPct
		}
	);
	// A cylinder that the change makes leaner than it was; one that is lean either way is the matter of its finding.
	for (const { cylinder, places } of cylinders) {
		const leaned = places.filter((at) => at.after > at.before);
		if (leaned.length)
			judge(`cylinder ${cylinder} against its target`, Math.max(...leaned.map((at) => at.after)), {
				watch: profile.leanWatchPct,
				fix: profile.leanFixPct,
				stop: profile.leanStopPct
			});
	}
	// The absolute limit, where the engine is under boost and lean for its target too.
	let leanestOff = -Infinity;
	for (let i = 0; i < input.frame.length; i++) {
		if (!(input.segments.flags[i]! & FLAG.boosted) || !(input.segments.flags[i]! & FLAG.pull)) continue;
		for (const l of p.lambdaAfter)
			if (l[i]! / p.targetAfter[i]! - 1 > profile.leanWatchPct / 100 && l[i]! > leanestOff)
				leanestOff = l[i]!;
	}
	if (leanestOff > profile.lambdaLeanBoosted)
		out.push({
			what: 'lambda under boost',
			value: Number(fixed(leanestOff, 3)),
			limit: profile.lambdaLeanBoosted,
			unit: 'λ',
			severity: 'stop'
		});
	judge(
		'injector duty',
		highest((s) => s.dutyPct[1]),
		{
			watch: profile.dutyWatchPct,
			fix: profile.dutyFixPct,
			stop: profile.dutyStopPct
		}
	);
	judge(
		'injector duty on the worst day',
		highest((s) => s.dutyWorstDayPct[1]),
		{
			watch: profile.reserveWatchPct,
			fix: profile.reserveFixPct,
			stop: Infinity
		}
	);
	return out;
}

/** What hangs on injectors that the next revision means and that may not be in. */
function othersIn(now: Calibration, next: Calibration): string[] {
	const ratio = otherInjectors(now, next);
	if (ratio === null) return [];
	const flow = (c: Calibration) => `${fixed(numberOf(c, 'injector.flow')!, 0)} cc/min`;
	const offPct = 100 * (ratio - 1);
	return [
		`whether injectors of ${flow(next)} are in: this counts on them. With those of ${flow(now)} it would be ${fixed(Math.abs(offPct), 0)} % ${offPct > 0 ? 'leaner' : 'richer'} than shown`
	];
}

function unknowable(input: Prepared, now: Calibration, next: Calibration): string[] {
	const changed = compare(now, next).changes;
	const touches = (...acts: Acts[]) => changed.some((c) => actsOn(c.item, ...acts));
	return [
		'whether it knocks: timing, mixture and the day decide that, and only a log tells',
		...othersIn(now, next),
		...(touches('boost') ? ['what the changed boost does to the air, the mixture and the knock'] : []),
		...(touches('throttle', 'shift', 'protection')
			? ['where the engine goes with other throttle, shifts or limits']
			: []),
		...(touches('sensor', 'trigger') ? ['what a changed sensor or trigger makes of the same engine'] : []),
		...(changed.some((c) => baseOf(c.item) === 'fuel.cylTrim') &&
		!input.frame.ids.some((id) => id.startsWith('lambda.cyl'))
			? ['single cylinders: their lambda is not logged, and only their mean enters here']
			: []),
		...(bankCount(input.vehicle) === 2 && input.required.banks.some((b) => b === null)
			? ['the bank that has no sensor']
			: []),
		'learned trims: they are taken as zero after the change, and learn on'
	];
}
