/**
 * `log.sensor`: sensors that can't be right by themselves: stuck while the engine moves, out of physical range, jumping, or at the
 * end of their scale under load.
 */
import { timingAlong } from '../../calibration/fuel-along.ts';
import { finding, found, notChecked, pass } from '../measure.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { CHANNELS } from '../../channels/canonical.ts';
import { maskOf } from '../../logfile/columns.ts';
import type { Frame } from '../../logfile/frame.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import type { Extremes } from '../../stats/stats.ts';
import { round } from '../ranges.ts';
import { check, type Told } from '../check.ts';
import type { Raised } from '../types.ts';
import { fixed, list, uncapital } from '../../format.ts';

const STUCK = /^(rpm|map|tps|maf|pw\.b[12]|airmass|spark|lambda\.(b[12]|ref2?|dyno|cyl\d+))$/;
const STUCK_S = 20;
/** The engine has to move by this much while a sensor doesn't. */
const MOVES_RPM = 1000;
const MOVES_LOAD: [string, number][] = [
	['map', 20],
	['airmass', 0.15],
	['maf', 25],
	['tps', 15],
	['pedal', 15]
];
/** A mixture that doesn't move by a digit while its target goes from one level to another, each held for a second, isn't measured. */
const TARGET_MOVES = 0.06;
const TARGET_HELD_S = 1;
const OUT_OF_RANGE_SHARE = 0.01;
const JUMP_C = 15;
const JUMPS = 3;
const PEGGED_S = 0.5;
/** A wideband's end lies at or beyond these. */
const LAMBDA_ENDS = { low: 0.72, high: 1.25 };

/** What is wrong with a channel, and its figure: a share of the log in %, the value at the end, seconds, times. */
type FaultKind = 'outside' | 'end' | 'stuck' | 'jumps';
interface Fault {
	id: string;
	name: string;
	kind: FaultKind;
	figure: number;
	unit: string;
	runs: Run[];
}

/** One entry a channel in each list. */
type Facts = { names: string[]; faults: FaultKind[]; figures: number[]; units: string[] };

const FAULT_WORDS: Record<FaultKind, (name: string, figure: number, unit: string) => string> = {
	outside: (name, pct) => `${name} is outside what is physically possible for ${fixed(pct, 0)} % of the log`,
	end: (name, at, unit) => `${name} sits at the end of its scale (${at} ${unit}) under load`,
	stuck: (name, s) => `${name} doesn't change for ${fixed(s, 0)} s while the engine does`,
	jumps: (name, times) => `${name} jumps ${times} times for a single sample`
};

/** Stretches of one and the same value over at least `minSamples`; samples to skip don't end one. */
function constantRuns(values: Float32Array, skip: Uint8Array, minSamples: number): Run[] {
	const out: Run[] = [];
	let from = 0;
	let last = -1;
	let held = Number.NaN;
	for (let i = 0; i < values.length; i++) {
		const v = values[i]!;
		if (v === held) last = i;
		else if (v === v && !skip[i]) {
			if (last - from >= minSamples) out.push({ from, to: last });
			held = v;
			from = i;
			last = i;
		}
	}
	if (last - from >= minSamples) out.push({ from, to: last });
	return out;
}

function span(values: Float32Array | null, run: Run, skip: Uint8Array): number {
	let low = Infinity;
	let high = -Infinity;
	if (values)
		for (let i = run.from; i <= run.to; i++) {
			const v = values[i]!;
			if (v !== v || skip[i]) continue;
			if (v < low) low = v;
			if (v > high) high = v;
		}
	return high >= low ? high - low : 0;
}

/** Whether engine speed both rises and falls by `by` within a run, in this order or the other. */
function risesAndFalls(rpm: Float32Array, run: Run, by: number): boolean {
	let low = Infinity;
	let high = -Infinity;
	let rises = false;
	let falls = false;
	for (let i = run.from; i <= run.to; i++) {
		const v = rpm[i]!;
		if (v !== v) continue;
		if (v < low) low = v;
		if (v > high) high = v;
		if (v - low > by) {
			rises = true;
			high = v;
			low = v;
		}
		if (high - v > by) {
			falls = true;
			low = v;
			high = v;
		}
	}
	return rises && falls;
}

/**
 * A throttle may really stand still while the engine runs up through a gear, or flat on its stop: it is stuck only when engine speed
 * also falls again, away from the stop.
 */
function throttleMayStand(frame: Frame, values: Float32Array, run: Run): boolean {
	const rpm = frame.get('rpm');
	if (values[run.from]! >= frame.bounds('tps')!.max * 0.9) return true;
	return rpm !== null && !risesAndFalls(rpm, run, MOVES_RPM);
}

function stuck(id: string, frame: Frame, skip: Uint8Array): Run[] {
	const values = frame.get(id)!;
	const counted = (run: Run) => {
		let s = 0;
		for (let i = run.from; i <= run.to; i++) if (!skip[i]) s += frame.dtS[i]!;
		return s;
	};
	// No run with fewer samples than fit into half the time can be long enough, whatever gaps are in it.
	const least = STUCK_S / frame.stepS / 10;
	return constantRuns(values, skip, least).filter((run) => {
		if (frame.timeS[run.to]! - frame.timeS[run.from]! < STUCK_S || counted(run) < STUCK_S) return false;
		if (id === 'tps' && throttleMayStand(frame, values, run)) return false;
		const rpmMoves =
			id === 'rpm' ? span(frame.get('speed'), run, skip) > 30 : span(frame.get('rpm'), run, skip) > MOVES_RPM;
		return (
			rpmMoves &&
			MOVES_LOAD.some(([load, by]) => load !== id && frame.has(load) && span(frame.get(load), run, skip) > by)
		);
	});
}

/** Stretches in which a measured lambda stands still while its target goes to another level and stays there. */
function deafToTarget(id: string, frame: Frame, skip: Uint8Array): Run[] {
	const target = frame.get('lambda.target');
	if (!target || !id.startsWith('lambda.')) return [];
	const least = Math.max(3, (2 * TARGET_HELD_S) / frame.stepS);
	return constantRuns(frame.get(id)!, skip, least).filter((run) => {
		const held = (test: (v: number) => boolean) => {
			let seconds = 0;
			for (let i = run.from; i <= run.to; i++) if (!skip[i] && test(target[i]!)) seconds += frame.dtS[i]!;
			return seconds >= TARGET_HELD_S;
		};
		const moved = span(target, run, skip);
		if (moved < TARGET_MOVES) return false;
		let low = Infinity;
		for (let i = run.from; i <= run.to; i++) if (!skip[i] && target[i]! < low) low = target[i]!;
		return held((v) => v < low + moved / 4) && held((v) => v > low + (3 * moved) / 4);
	});
}

/** Timing that stands still because the table does: the log shows what was asked for, and no sensor is at fault. */
const ASKED_WITHIN_DEG = 1;
/** Share of the samples that have to show what was asked for: the others read the table between two steep rows. */
const ASKED_SHARE = 0.9;
function asTheTableSays(frame: Frame, asked: Float32Array, skip: Uint8Array, run: Run): boolean {
	const spark = frame.get('spark')!;
	let all = 0;
	let alike = 0;
	for (let i = run.from; i <= run.to; i++) {
		if (skip[i] || asked[i] !== asked[i]) continue;
		all++;
		if (Math.abs(spark[i]! - asked[i]!) <= ASKED_WITHIN_DEG) alike++;
	}
	return alike > 0 && alike >= ASKED_SHARE * all;
}

/** Loaded stretches with a sensor at its end; a lambda says nothing there while it sees no mixture. */
function pegged(input: Prepared, id: string, { min, max }: Extremes): Run[] {
	const { frame, segments, vehicle } = input;
	const { hidden } = input.believed;
	const values = frame.get(id)!;
	const lambda = id.startsWith('lambda.');
	// The values at which the sensor is at its end; most never come near them.
	const fullScale = (vehicle.sensors?.mapFullScaleKpa ?? Infinity) * 0.995;
	const low = lambda && min <= LAMBDA_ENDS.low ? min : Number.NaN;
	let high = max;
	if (lambda && max < LAMBDA_ENDS.high) high = Number.NaN;
	if (id === 'map') high = max >= fullScale ? fullScale : Number.NaN;
	if (low !== low && high !== high) return [];
	const rpm = frame.get('rpm');
	const atEnd = (i: number) => (values[i] === low || values[i]! >= high) && !(lambda && hidden[i]);
	const runs = stretches(frame, PEGGED_S + 1e-3, atEnd, 0, segments.loaded);
	// A flow that doesn't rise with engine speed is at the end of the meter; a steady one is just steady.
	return id === 'maf' ? runs.filter((r) => rpm !== null && Math.abs(rpm[r.to]! - rpm[r.from]!) > 300) : runs;
}

function jumps(values: Float32Array): Run[] {
	const out: Run[] = [];
	for (let i = 1; i + 1 < values.length; i++) {
		const before = values[i]! - values[i - 1]!;
		const after = values[i]! - values[i + 1]!;
		if (Math.abs(before) > JUMP_C && Math.abs(after) > JUMP_C && before > 0 === after > 0)
			out.push({ from: i, to: i });
	}
	return out;
}

export const logSensor = check({
	code: 'log.sensor',
	title: 'Sensors at their ends',
	section: 'fit',
	advice: 'repair',
	doubts: ['fuel', 'reading', 'injectors'],
	needs: ['mapFullScale'],
	units: { figures: '' },
	plain: (f) =>
		`A sensor does not say anything useful: ${uncapital(f.title)}. Look at its plug and wiring, and record again.`,
	run(input) {
		const { frame, segments, log } = input;
		if (frame.length === 0 || log.channels.length === 0)
			return notChecked('no channel was recognised', 'rpm');
		const calm = maskOf(frame.length, (i) => (segments.flags[i]! & (FLAG.overrun | FLAG.fuelCut)) !== 0);
		// A sensor that heats up says nothing yet, and before the start there is nothing to say: the engine stands, its target is on its way.
		const asleep = maskOf(
			frame.length,
			(i) => calm[i] === 1 || (segments.flags[i]! & (FLAG.standing | FLAG.start)) !== 0
		);
		const faults: Fault[] = [];
		const checked: string[] = [];
		for (const channel of log.channels) {
			const kind = CHANNELS.get(channel.id)!;
			if (kind.quantity === 'text') continue;
			const values = frame.get(channel.id)!;
			const name = kind.title;
			checked.push(channel.id);
			// Noise round a standing 0 is no broken sensor.
			const slack = (kind.max - kind.min) * 0.01;
			const bounds = frame.bounds(channel.id)!;
			const { min, max, missing } = bounds;
			let outside = 0;
			if (min < kind.min - slack || max > kind.max + slack)
				for (let i = 0; i < values.length; i++)
					if (values[i]! < kind.min - slack || values[i]! > kind.max + slack) outside++;
			const there = values.length * (1 - missing);
			if (there > 0 && outside > there * OUT_OF_RANGE_SHARE) {
				faults.push({
					id: channel.id,
					name,
					kind: 'outside',
					figure: (100 * outside) / there,
					unit: '%',
					runs: []
				});
				continue;
			}
			if (/^(map|maf|lambda\.(b[12]|ref2?|dyno|cyl\d+))$/.test(channel.id)) {
				const runs = pegged(input, channel.id, bounds);
				if (runs.length) {
					faults.push({
						id: channel.id,
						name,
						kind: 'end',
						figure: round(values[runs[0]!.from]!, 2),
						unit: kind.quantity === 'lambda' ? 'λ' : channel.unit,
						runs
					});
					continue;
				}
			}
			if (STUCK.test(channel.id)) {
				const still = [...stuck(channel.id, frame, calm), ...deafToTarget(channel.id, frame, asleep)];
				const asked =
					channel.id === 'spark' && still.length && input.calibration
						? timingAlong(frame, input.calibration, segments.baroKpa)
						: null;
				const runs = asked ? still.filter((r) => !asTheTableSays(frame, asked, calm, r)) : still;
				if (runs.length) {
					const longest = Math.max(...runs.map((r) => frame.timeS[r.to]! - frame.timeS[r.from]!));
					faults.push({
						id: channel.id,
						name,
						kind: 'stuck',
						figure: longest,
						unit: 's',
						runs
					});
					continue;
				}
			}
			if (kind.quantity === 'temperature' && !channel.id.startsWith('egt') && max - min > JUMP_C) {
				const runs = jumps(values);
				if (runs.length >= JUMPS)
					faults.push({
						id: channel.id,
						name,
						kind: 'jumps',
						figure: runs.length,
						unit: 'times',
						runs
					});
			}
		}
		if (faults.length === 0)
			return pass(`${checked.length} channels move with the engine and stay inside their range.`);
		// Each is answered by itself: a sensor at its end is another finding than one that is stuck.
		const grouped = [faults.filter((f) => f.kind === 'end'), faults.filter((f) => f.kind !== 'end')];
		return found(
			...grouped.flatMap((mine, k): Raised<Facts>[] => {
				if (mine.length === 0) return [];
				return [
					finding(input, {
						kind: k === 0 ? 'end' : 'stuck',
						severity: k === 0 ? 'stop' : 'fix',
						facts: {
							names: mine.map((f) => f.name),
							faults: mine.map((f) => f.kind),
							figures: mine.map((f) => f.figure),
							units: mine.map((f) => f.unit)
						},
						value: mine.length,
						limit: 0,
						unit: 'channels',
						runs: mine.flatMap((f) => f.runs).sort((a, b) => a.from - b.from),
						channels: mine.map((f) => f.id)
					})
				];
			})
		);
	},
	words: ({ facts: { names, faults, figures, units } }: Told<Facts>) => {
		const end = faults.includes('end');
		return {
			title: end ? 'A sensor at its end under load' : 'A sensor that cannot be right',
			summary: `${list(names.map((name, i) => FAULT_WORDS[faults[i]!](name, figures[i]!, units[i]!)))}.`,
			causes: end
				? [
						'the engine makes more than the sensor can measure',
						'the sensor is scaled wrongly',
						'the sensor has failed'
					]
				: [
						'the sensor or its wiring',
						'the logging program repeats an old value',
						'the column is not what its name says'
					],
			next: end
				? ['what lies beyond the end of the scale is not known: no more load until the sensor reads it']
				: ['check the sensor; nothing is judged by it until then']
		};
	}
});
