/** Readings by cylinder, gathered by engine speed: what the checks of cylinders judge and their page shows. */
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { seenAt } from '../evidence/lambda/lag.ts';
import { slope, stretches, type Run } from '../stats/runs.ts';
import { median } from '../stats/stats.ts';
import { medianAt, samplesWhere } from './measure.ts';

export const BIN_RPM = 500;
const BIN_S = 0.5;
/** Fewer than this have no median worth the name. */
export const LEAST_CYLINDERS = 3;

export const cylinderOf = (id: string) => Number(/\d+$/.exec(id)![0]);

/** The set that a cylinder is compared with: its bank where that has three or more, else all. */
function peers(input: Prepared, cylinder: number, all: readonly number[]): readonly number[] {
	const bank = input.vehicle.engine.banks?.find((b) => b.includes(cylinder))?.filter((c) => all.includes(c));
	return bank && bank.length >= LEAST_CYLINDERS ? bank : all;
}

interface Bin {
	cylinder: number;
	bin: number;
	/** Percent from the median of the peers, per sample. */
	off: number[];
}

/** Middle of the first `n` values, which are put in order. */
function middleOf(row: Float64Array, n: number): number {
	for (let i = 1; i < n; i++) {
		const v = row[i]!;
		let k = i;
		while (k > 0 && row[k - 1]! > v) {
			row[k] = row[k - 1]!;
			k--;
		}
		row[k] = v;
	}
	return n % 2 ? row[n >> 1]! : (row[(n >> 1) - 1]! + row[n >> 1]!) / 2;
}

/**
 * By cylinder and 500 rpm: how far it is from the median of its peers. One median per set of peers and sample.
 * @param seen where the sensors show the gas of a sample, −1 nowhere
 */
function byCylinderAndBin(
	input: Prepared,
	columns: ReadonlyMap<number, Float32Array>,
	samples: Int32Array,
	seen: Int32Array
): Bin[] {
	const rpm = input.frame.get('rpm')!;
	const all = [...columns.keys()];
	const sets = new Map<string, { members: number[]; judged: number[] }>();
	for (const cylinder of all) {
		const members = [...peers(input, cylinder, all)];
		const key = members.join();
		const set = sets.get(key) ?? { members, judged: [] };
		set.judged.push(cylinder);
		sets.set(key, set);
	}
	const bins: Bin[] = [];
	const row = new Float64Array(all.length);
	for (const { members, judged } of sets.values()) {
		const theirs = members.map((c) => columns.get(c)!);
		const mine = judged.map((c) => columns.get(c)!);
		/** Of each judged cylinder, by bin. */
		const known: (Bin | undefined)[][] = judged.map(() => []);
		for (let s = 0; s < samples.length; s++) {
			const i = samples[s]!;
			const at = seen[i]!;
			if (at < 0) continue;
			let n = 0;
			for (let k = 0; k < theirs.length; k++) {
				const v = theirs[k]![at]!;
				if (v === v) row[n++] = v;
			}
			if (n < LEAST_CYLINDERS) continue;
			const middle = middleOf(row, n);
			const bin = Math.floor(rpm[i]! / BIN_RPM);
			for (let k = 0; k < mine.length; k++) {
				const v = mine[k]![at]!;
				if (v !== v) continue;
				let b = known[k]![bin];
				if (!b) bins.push((b = known[k]![bin] = { cylinder: judged[k]!, bin, off: [] }));
				b.off.push(100 * (v / middle - 1));
			}
		}
	}
	return bins;
}

export interface CylinderBin {
	cylinder: number;
	/** Times 500 rpm. */
	bin: number;
	/** Median distance from the median of its peers, percent of lambda; + is leaner. */
	pct: number;
	samples: number;
}

/** Loaded samples of lambda by cylinder; bins of less than half a second are left out. */
export function lambdaByCylinder(input: Prepared): CylinderBin[] {
	const { frame, segments, believed } = input;
	const columns = new Map(
		frame.ids.filter((id) => id.startsWith('lambda.cyl')).map((id) => [cylinderOf(id), frame.get(id)!])
	);
	const least = Math.max(3, Math.ceil(BIN_S / frame.stepS));
	const samples = samplesWhere(
		frame.length,
		(i) => !believed.hidden[i] && (segments.flags[i]! & FLAG.loaded) !== 0
	);
	return byCylinderAndBin(input, columns, samples, seenAt(frame.timeS, believed.lagS))
		.filter((b) => b.off.length >= least)
		.map(({ cylinder, bin, off }) => ({ cylinder, bin, pct: median(off), samples: off.length }));
}

/** EGT is slow: only what was steady for this long says something, and of a pull that is long enough its last second. */
/** A level that stands still needs no more samples than these. */
const LEVEL_SAMPLES = 500;
const STEADY_S = 5;
const LONG_PULL_S = 4;
const LAST_S = 1;
/** Steadier than this engine speed and manifold pressure are no acceleration. */
const STEADY_RPM_PER_S = 150;
const STEADY_KPA_PER_S = 10;

/** Steady driving, loaded or not, without the first half of what makes it steady: the sensor is still on its way there. */
function steadyStretches({ frame, segments }: Prepared): Run[] {
	const rpm = frame.get('rpm');
	if (!rpm) return [];
	const map = frame.get('map');
	const dRpm = slope(rpm, frame.timeS, 0.5);
	const dMap = map ? slope(map, frame.timeS, 0.5) : null;
	const calm = (i: number) =>
		!(segments.flags[i]! & (FLAG.idle | FLAG.overrun | FLAG.standing)) &&
		Math.abs(dRpm[i]!) < STEADY_RPM_PER_S &&
		(dMap === null || Math.abs(dMap[i]!) < STEADY_KPA_PER_S);
	return stretches(frame, STEADY_S, calm, 0.2).map(({ from, to }) => {
		let settled = from;
		while (settled < to && frame.timeS[settled]! - frame.timeS[from]! < STEADY_S / 2) settled++;
		return { from: settled, to };
	});
}

/** The last second of every pull that is long enough. */
function endsOfPulls({ frame, segments }: Prepared): Run[] {
	return segments.pulls
		.filter((p) => p.toS - p.fromS >= LONG_PULL_S - frame.stepS)
		.map(({ to, toS }) => {
			let from = to;
			while (from > 0 && toS - frame.timeS[from - 1]! < LAST_S) from--;
			return { from, to };
		});
}

/**
 * Exhaust temperature by cylinder, °C, where the cylinders are furthest apart of steady driving and the ends of long pulls; NaN where there was
 * neither. Each stretch is looked at by itself: linear in the length of the log.
 */
export function exhaustByCylinder(input: Prepared): { cylinder: number; level: number }[] {
	const { frame } = input;
	const ids = frame.ids.filter((id) => id.startsWith('egt.'));
	const levels = [...steadyStretches(input), ...endsOfPulls(input)].map(({ from, to }) => {
		const step = Math.max(1, Math.floor((to - from + 1) / LEVEL_SAMPLES));
		const samples = new Int32Array(Math.ceil((to - from + 1) / step));
		for (let k = 0; k < samples.length; k++) samples[k] = from + k * step;
		return ids.map((id) => ({ cylinder: cylinderOf(id), level: medianAt(frame.get(id)!, samples, 5) }));
	});
	const spread = (of: readonly { level: number }[]) => {
		const known = of.map((l) => l.level).filter(Number.isFinite);
		return known.length > 1 ? Math.max(...known) - Math.min(...known) : -1;
	};
	const none = ids.map((id) => ({ cylinder: cylinderOf(id), level: Number.NaN }));
	return levels.reduce((widest, l) => (spread(l) > spread(widest) ? l : widest), none);
}
