/**
 * Misfires that nobody counted. A cylinder that doesn't burn sends its air past the sensor: a short lean spike, while the engine pulls
 * less than it does in other pulls at the same speed; or a reading that scatters far more than elsewhere under load. Both read lean and
 * are no lean mixture.
 */
import { derived } from '../../logfile/columns.ts';
import { FLAG, NO_MIXTURE } from '../segments/kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Segments } from '../segments/segments.ts';
import { slope, stretches, type Run } from '../../stats/runs.ts';
import { median, runningMedian } from '../../stats/stats.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import type { Believed } from './believed.ts';
import { deadStretches, type DeadStretch } from './dead-cylinder.ts';

export interface SuspectedMisfire {
	/** Lean spikes with a loss of drive, and stretches of scatter. */
	spikes: Run[];
	scattered: Run[];
	/** Stretches in which a cylinder doesn't burn at all. */
	dead: DeadStretch[];
}

/** A spike stands this far over the mixture around it (share). */
const SPIKE = 0.06;
const LONGEST_SPIKE_S = 0.6;
const AROUND_S = 1.5;
/** The engine pulls at most this share of what other pulls show at this speed. */
const WEAKER = 0.75;
const SAME_RPM = 250;
const FEWEST_SPIKES = 2;
/** Scatter over the usual one, and at least this much (share of lambda). */
const SCATTER_TIMES = 3;
const LEAST_SCATTER = 0.025;
const WINDOW_S = 0.5;
const FEWEST = 8;

/** @param target lambda target per sample; without one lambda itself is looked at */
export function suspectedMisfire(
	frame: Frame,
	segments: Segments,
	believed: Believed,
	target: Float32Array | null,
	vehicle: Vehicle
): SuspectedMisfire {
	const none: SuspectedMisfire = { spikes: [], scattered: [], dead: [] };
	const rpm = frame.get('rpm');
	if (!rpm || segments.loaded.length === 0 || frame.ids.some((id) => id.startsWith('misfire.'))) return none;
	const accel = slope(rpm, frame.timeS, 0.15);
	const spikes: Run[] = [];
	const scattered: Run[] = [];
	const dead: DeadStretch[] = [];
	const { cylinders } = vehicle.engine;
	const perBank = believed.shared || believed.banks.length === 1 ? cylinders : cylinders / 2;
	for (const [b, lambda] of believed.banks.entries()) {
		if (!lambda) continue;
		const off = new Float32Array(frame.length).fill(Number.NaN);
		for (const run of segments.loaded)
			for (let i = run.from; i <= run.to; i++)
				if (!(segments.flags[i]! & NO_MIXTURE)) off[i] = lambda[i]! / (target ? target[i]! : 1) - 1;
		const width = 2 * Math.floor(AROUND_S / frame.stepS / 2) + 1;
		const around = runningMedian(off, Math.min(401, Math.max(3, width)), segments.loaded);
		const high = stretches(
			frame,
			0,
			(i) => off[i]! - around[i]! > SPIKE,
			frame.stepS * 1.5,
			segments.loaded
		).filter((r) => frame.timeS[r.to]! - frame.timeS[r.from]! <= LONGEST_SPIKE_S);
		// A spike has mixture on both sides of it: at the end of a run the driver lifted, at its start he hadn't arrived.
		const edges = new Set(segments.loaded.flatMap((run) => [run.from, run.to]));
		const inside = high.filter((r) => !edges.has(r.from) && !edges.has(r.to));
		spikes.push(...inside.filter((r) => weaker(r, rpm, accel, frame, segments)));
		scattered.push(...scatterIn(off, frame, segments));
		const log = derived(off, (v) => Math.log(1 + v), segments.loaded);
		for (const found of deadStretches(frame, segments, log, { all: cylinders, bank: perBank }))
			dead.push({ ...found, bank: b + 1 });
	}
	return { spikes: spikes.length >= FEWEST_SPIKES ? spikes : [], scattered, dead };
}

/** Whether the engine speeds up less in a spike than the other pulls do at its speed in the same gear. */
function weaker(
	run: Run,
	rpm: Float32Array,
	accel: Float32Array,
	frame: Frame,
	{ pulls, gear }: Segments
): boolean {
	const mine = pulls.find((p) => p.from <= run.from && run.from <= p.to);
	if (!mine) return false;
	const at = rpm[run.from]!;
	const others: number[] = [];
	for (const p of pulls) {
		if (p === mine || (gear && p.gear !== mine.gear)) continue;
		for (let i = p.from; i <= p.to; i++) if (Math.abs(rpm[i]! - at) <= SAME_RPM) others.push(accel[i]!);
	}
	if (others.length < FEWEST) return false;
	// The loss comes with the spike, not at one sample of it.
	const own: number[] = [];
	for (let i = run.from; i <= run.to && i < frame.length; i++) own.push(accel[i]!);
	const usual = median(others);
	return usual > 0 && Math.min(...own) < WEAKER * usual && median(own) < (1 + WEAKER) * 0.5 * usual;
}

/** Half-second windows whose reading scatters far more than the loaded windows of the log usually do. */
function scatterIn(off: Float32Array, frame: Frame, segments: Segments): Run[] {
	const windows: { run: Run; scatter: number }[] = [];
	for (const loaded of segments.loaded) {
		let from = loaded.from;
		for (let i = loaded.from; i <= loaded.to; i++) {
			if (frame.timeS[i]! - frame.timeS[from]! < WINDOW_S && i < loaded.to) continue;
			// Differences between neighbours see no trend of the mixture, only its noise.
			const steps: number[] = [];
			for (let k = from + 1; k <= i; k++) {
				const d = off[k]! - off[k - 1]!;
				if (d === d) steps.push(Math.abs(d));
			}
			if (steps.length >= FEWEST) windows.push({ run: { from, to: i }, scatter: median(steps) });
			from = i;
		}
	}
	if (windows.length < FEWEST) return [];
	const usual = median(windows.map((w) => w.scatter));
	const wild = windows.filter((w) => w.scatter > Math.max(SCATTER_TIMES * usual, LEAST_SCATTER));
	// Two windows side by side: one may be a step of the target.
	return wild
		.filter((w) => wild.some((o) => o !== w && (o.run.from === w.run.to || w.run.from === o.run.to)))
		.map((w) => w.run);
}

/** Marks the samples as misfire, so that they count as no mixture, and what a sensor shows of them. */
export function markSuspected(
	{ spikes, scattered, dead }: SuspectedMisfire,
	segments: Segments,
	believed: Believed
): void {
	for (const { from, to } of [...spikes, ...scattered, ...dead])
		for (let i = from; i <= to; i++) {
			segments.flags[i]! |= FLAG.misfire;
			believed.hidden[i] = 1;
			for (const b of believed.banks) if (b) b[i] = Number.NaN;
		}
}
