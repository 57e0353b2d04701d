/**
 * What kind of driving each sample belongs to. Definitions are in the docs under `docs/formats/screening.md`; thresholds are defaults.
 * Flags are bits per sample, segments the stretches worth naming.
 */
import { FLAG, type FlagName, type Segment } from './kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import { median, quantile, thinned } from '../../stats/stats.ts';
import type { Profile } from '../../limits/profile.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import { assumedBaroKpa } from '../../vehicle/facts.ts';
import { gearOfSamples } from './gears.ts';
import { slope, stretches, type Run } from '../../stats/runs.ts';
import { gearChanges } from './shifts.ts';
import { slipOf } from './slip.ts';

export interface Segments {
	flags: Uint32Array;
	list: Segment[];
	/** Everything but the standing engine before the start and after the stop: what checks and statistics look at. */
	running: Run[];
	/** Loaded stretches, longest driving unit for the checks. */
	loaded: Run[];
	pulls: Segment[];
	/** Gear per sample, 0 unknown; `null` when the log can't tell. */
	gear: Int8Array | null;
	/** Percent that the engine turns faster in a pull than road speed and gear allow, NaN elsewhere; `null` when it can't be told. */
	slip: Float32Array | null;
	baroKpa: number;
	/** Where the barometer comes from, in words. */
	baroFrom: string;
	idleRpm: number;
}

const MISFIRE_AFTER_S = 0.7;
const TRANSIENT_AFTER_S = 0.4;
const START_AFTER_S = 10;
const SLOPE_HALF_S = 0.1;

/** Barometer of a log: its channel, else the manifold with the engine standing, else the vehicle's, else standard. */
export function barometer(frame: Frame, vehicle: Vehicle): { kpa: number; from: string } {
	const baro = frame.get('baro');
	if (baro) {
		const kpa = median(thinned(baro, 2000));
		if (kpa > 50 && kpa < 115) return { kpa, from: 'barometer channel' };
	}
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	if (rpm && map) {
		const standing: number[] = [];
		for (const { from, to } of stillRuns(frame))
			for (let i = from; i <= to && standing.length < 5000; i++) if (map[i]! > 50) standing.push(map[i]!);
		if (standing.length >= 5) return { kpa: median(standing), from: 'manifold with the engine standing' };
	}
	if (vehicle.baselines?.ambientPressureKpa)
		return { kpa: assumedBaroKpa(vehicle), from: "the vehicle's usual ambient pressure" };
	return { kpa: assumedBaroKpa(vehicle), from: 'standard pressure, as nothing tells the real one' };
}

const STILL_RPM = 200;
const STILL_S = 1;
/** A manifold further from the barometer than this says that the engine turns, whatever its speed channel shows. */
const STILL_WITHIN_KPA = 20;

/**
 * Stretches in which neither the engine turns nor the car moves, by engine speed and road speed alone. A speed channel without a
 * value counts as none.
 */
export function stillRuns(frame: Frame): Run[] {
	const rpm = frame.get('rpm');
	const speed = frame.get('speed');
	const throttle = frame.first('pedal', 'tps');
	if (!rpm) return [];
	const { min, missing } = frame.bounds('rpm')!;
	if (!(min < STILL_RPM) && missing === 0) return [];
	return stretches(
		frame,
		STILL_S,
		(i) => !(rpm[i]! >= STILL_RPM) && !(speed && speed[i]! >= 1) && !(throttle && throttle[i]! >= 50)
	);
}

export function segmentsOf(frame: Frame, vehicle: Vehicle, profile: Profile): Segments {
	const n = frame.length;
	const t = frame.timeS;
	const step = frame.stepS;
	const flags = new Uint32Array(n);
	const list: Segment[] = [];
	const { kpa: baroKpa, from: baroFrom } = barometer(frame, vehicle);
	const idleRpm = vehicle.engine.idleRpm ?? 850;
	const gear = gearOfSamples(frame, vehicle);
	const none = new Float32Array(0);
	const rpm = frame.get('rpm') ?? none;
	const result: Segments = {
		flags,
		list,
		running: n ? [{ from: 0, to: n - 1 }] : [],
		loaded: [],
		pulls: [],
		gear,
		slip: null,
		baroKpa,
		baroFrom,
		idleRpm
	};
	if (rpm.length === 0) return result;
	const map = frame.get('map');
	const tps = frame.get('tps');
	const pedal = frame.get('pedal');
	const speed = frame.get('speed');
	const ect = frame.get('ect');
	const pw = frame.first('pw.b1', 'pw.b2');
	const throttle = tps ?? pedal;
	const opening = pedal ?? tps;
	const dRpm = slope(rpm, t, SLOPE_HALF_S);
	const dMap = map ? slope(map, t, SLOPE_HALF_S) : null;
	const dThrottle = throttle ? slope(throttle, t, SLOPE_HALF_S) : null;
	// The lowest opening of the log is a closed throttle, unless it never closed: no throttle idles above an eighth.
	const closedAt = throttle ? Math.min(12, quantile(thinned(throttle, 5000), 0.01)) + 3 : Number.NaN;
	const closed = (i: number) => (throttle ? throttle[i]! <= closedAt : map ? map[i]! < 40 : false);
	const top = frame.bounds(tps ? 'tps' : 'pedal')?.max ?? 0;
	const full = throttle ? fullThrottle(top, profile.loadedThrottlePct) : Infinity;

	const mark = (bit: number, run: Run) => {
		for (let i = run.from; i <= run.to; i++) flags[i]! |= bit;
	};
	/** Marks stretches of at least `minS`; those of a named kind also become segments. */
	const add = (kind: FlagName, minS: number, test: (i: number) => boolean, listed = true, closeS = 0) => {
		const runs = stretches(frame, minS, test, closeS);
		for (const run of runs) {
			mark(FLAG[kind], run);
			if (listed) list.push(segment(kind, run, t, gear));
		}
		return runs;
	};
	/** Flags from every sample that triggers until `afterS` later. */
	const after = (kind: FlagName, afterS: number, trigger: (i: number) => boolean) => {
		let until = -Infinity;
		for (let i = 0; i < n; i++) {
			if (trigger(i)) until = t[i]! + afterS;
			if (t[i]! <= until) flags[i]! |= FLAG[kind];
		}
	};

	for (const run of stillRuns(frame)) {
		// An engine speed that drops out while the manifold says that the engine works is a broken channel, no standing engine.
		const still = (i: number) => !map || !(Math.abs(map[i]! - baroKpa) > STILL_WITHIN_KPA);
		for (const r of stretches(frame, STILL_S, still, 0, [run])) {
			mark(FLAG.standing, r);
			result.running = without(result.running, r);
		}
	}
	// What the bounds of a channel rule out isn't looked for sample by sample.
	if (ect && frame.bounds('ect')!.min < profile.coolantMinC)
		add('warmup', 0, (i) => ect[i]! < profile.coolantMinC, true, 1);
	let startedAt = -Infinity;
	if (frame.bounds('rpm')!.min < 300)
		for (let i = 1; i < n; i++) {
			if (rpm[i - 1]! < 300 && rpm[i]! >= 300) startedAt = t[i]!;
			if (t[i]! - startedAt <= START_AFTER_S) flags[i]! |= FLAG.start;
		}
	if (dThrottle) after('transient', TRANSIENT_AFTER_S, (i) => Math.abs(dThrottle[i]!) > 60);
	const misfires = frame.ids.filter((id) => id.startsWith('misfire.')).map((id) => frame.get(id)!);
	if (misfires.length)
		after('misfire', MISFIRE_AFTER_S, (i) => i > 0 && misfires.some((m) => m[i]! > m[i - 1]!));
	if (pw) add('fuelCut', 0, (i) => pw[i] === 0 && rpm[i]! > 500, false);
	add('overrun', 0.2, (i) => closed(i) && rpm[i]! > idleRpm + 500, true, 0.2);
	const limitRpm = vehicle.engine.revLimitRpm;
	if (frame.bounds('rpm')!.max >= limitRpm - 150)
		add(
			'limiter',
			0,
			(i) =>
				rpm[i]! >= limitRpm - 150 &&
				!closed(i) &&
				(rpm[i]! >= limitRpm ||
					(pw !== null && pw[i] === 0) ||
					(dRpm[i]! <= 0 && (throttle ? throttle[i]! >= full : true))),
			true,
			0.3
		);
	if (speed && throttle)
		add(
			'launch',
			0.3,
			(i) => throttle[i]! >= 70 && speed[i]! < 10 && rpm[i]! > 1500 && Math.abs(dRpm[i]!) < 1500,
			true,
			0.2
		);
	for (const change of gearChanges(rpm, gear, throttle, t)) {
		mark(FLAG.shift, change);
		list.push({
			...segment('shift', change, t, gear),
			...(change.gear ? { gear: change.gear, toGear: change.toGear } : {})
		});
	}
	const outside = FLAG.shift | FLAG.limiter | FLAG.launch;
	result.loaded = add(
		'loaded',
		0.3,
		(i) =>
			rpm[i]! > 1500 &&
			!(flags[i]! & outside) &&
			((opening !== null && opening[i]! >= profile.loadedThrottlePct) ||
				(throttle !== null && throttle[i]! >= full) ||
				(map !== null && map[i]! >= baroKpa - profile.loadedBelowBaroKpa)),
		true,
		step * 1.5
	);
	if (pedal && tps) {
		// A stock throttle that never opens fully is as open as it gets.
		const widest = vehicle.baselines?.fullThrottlePct ?? (top >= profile.loadedThrottlePct ? 100 : top);
		const open = (widest * profile.throttleOpenPct) / 100;
		for (const { from, to } of result.loaded)
			for (let i = from; i <= to; i++)
				if (pedal[i]! >= profile.loadedThrottlePct && tps[i]! < open) flags[i]! |= FLAG.limited;
	}
	if (map) add('boosted', 0.5, (i) => map[i]! > baroKpa + profile.boostedAboveBaroKpa, true, step * 1.5);
	if (throttle) {
		// The foot makes the pull, whatever the controller does with the throttle; where no pedal is logged the throttle stands for it.
		const pulls = (i: number) => (pedal ? pedal[i]! >= profile.loadedThrottlePct : throttle[i]! >= full);
		const wide = stretches(frame, 1, pulls, step * 1.5, result.loaded);
		for (const run of wide.flatMap((r) => byGear(r, gear))) {
			if (t[run.to]! - t[run.from]! + step < 1 || rise(rpm, run) < 1000) continue;
			mark(FLAG.pull, run);
			const s = segment('pull', run, t, gear);
			list.push(s);
			result.pulls.push(s);
		}
	}
	add(
		'idle',
		5,
		(i) =>
			closed(i) &&
			Math.abs(rpm[i]! - idleRpm) <= idleRpm * 0.25 &&
			(!speed || speed[i]! < 3 || speed[i] !== speed[i]),
		true,
		0.5
	);
	const inGear = (i: number) => (gear ? gear[i]! > 0 : !closed(i) && rpm[i]! > idleRpm + 300);
	add(
		'cruise',
		2,
		(i) =>
			inGear(i) &&
			!(flags[i]! & (FLAG.loaded | FLAG.overrun | FLAG.idle | FLAG.standing)) &&
			Math.abs(dRpm[i]!) < 300 &&
			(dMap === null || Math.abs(dMap[i]!) < 20),
		true,
		step * 1.5
	);
	if (opening) {
		// Half a pedal may already make boost: such an acceleration is loaded and medium at once.
		const rising = (i: number) => dRpm[i]! > 50 && !(flags[i]! & FLAG.cruise);
		add('light', 0.5, (i) => rising(i) && opening[i]! >= 15 && opening[i]! < 40, true, 0.3);
		add('medium', 0.5, (i) => rising(i) && opening[i]! >= 40 && opening[i]! < 75, true, 0.3);
	}
	// Wheelspin: the load isn't what the gear and the road make of it.
	const slip = slipOf(frame, result.pulls, gear, vehicle);
	result.slip = slip;
	if (slip)
		for (const pull of result.pulls)
			for (let i = pull.from; i <= pull.to; i++) if (slip[i]! > profile.slipPct) flags[i]! |= FLAG.spin;
	list.sort((a, b) => a.from - b.from || b.to - a.to);
	return result;
}

/** Throttle that counts as fully open: the limit, or 90 % of the channel's own top when it never gets there. */
function fullThrottle(topPct: number, limitPct: number): number {
	return topPct >= limitPct || !(topPct >= 50) ? limitPct : topPct * 0.9;
}

function segment(kind: FlagName, run: Run, t: Float64Array, gear: Int8Array | null): Segment {
	const s: Segment = { kind, from: run.from, to: run.to, fromS: t[run.from]!, toS: t[run.to]! };
	const g = gear?.[(run.from + run.to) >> 1] ?? 0;
	if (g > 0) s.gear = g;
	return s;
}

/** Runs with `hole` taken out of the last of them; holes come in order of time. */
function without(runs: readonly Run[], hole: Run): Run[] {
	const last = runs[runs.length - 1]!;
	return [
		...runs.slice(0, -1),
		...(hole.from > last.from ? [{ from: last.from, to: hole.from - 1 }] : []),
		...(hole.to < last.to ? [{ from: hole.to + 1, to: last.to }] : [])
	];
}

function rise(rpm: Float32Array, run: Run): number {
	return rpm[run.to]! - rpm[run.from]!;
}

/** Splits a run where one known gear gives way to another. */
function byGear(run: Run, gear: Int8Array | null): Run[] {
	if (!gear) return [run];
	const out: Run[] = [];
	let from = run.from;
	let current = gear[from]!;
	for (let i = run.from; i <= run.to; i++) {
		const g = gear[i]!;
		if (g > 0 && current > 0 && g !== current) {
			out.push({ from, to: i - 1 });
			from = i;
		}
		if (g > 0) current = g;
	}
	out.push({ from, to: run.to });
	return out;
}
