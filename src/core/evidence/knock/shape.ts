/**
 * Real or false, by shape: real knock climbs like a staircase for as long as the throttle stays open; false knock is scattered
 * short blips (common practice). Judged per pull and 1000 rpm region, so that a staircase doesn't swallow blips elsewhere.
 */
import { fixed } from '../../format.ts';
import type { Segment } from '../segments/kinds.ts';
import { theilSen } from '../../stats/stats.ts';
import type { Episode } from './episodes.ts';

export type KnockShape = 'real' | 'blips' | 'unclear';

export interface JudgedEpisode extends Episode {
	shape: KnockShape;
	/** Why, in words. */
	because: string;
	/** It comes back in one cell, and neither climbs nor stays. */
	repeats?: true;
	/** The words of the proof by which it is known to be noise. */
	proved?: string;
	/** What says that it comes without load as well: likelier noise, and no proof. */
	control?: string;
}

const STEP_DEG = 0.5;
/** Shorter than this is a blip, s. */
export const BLIP_S = 0.3;
const BLIPS = 5;
const BLIP_SHARE = 0.25;
const PRESENT_SHARE = 0.5;
const GROWING_DEG_PER_S = 0.3;
const REGION_RPM = 1000;
const CELL_RPM = 500;
const CELL_KPA = 20;

/**
 * Upward steps of an episode: rises of at least 0.5° each, none of them after a fall below half of the level before.
 * A rise without pause counts one step per half degree beyond the first 0.3 s, because a ramp is a fine staircase.
 */
export function upwardSteps(retard: Float32Array, timeS: Float64Array, from: number, to: number): number {
	let best = 0;
	let steps = 0;
	let low = 0;
	let lowAt = timeS[from]!;
	let high = 0;
	let climbing = true;
	let counted = false;
	for (let i = from; i <= to; i++) {
		const v = retard[i]!;
		if (v !== v) continue;
		const before = i > from ? retard[i - 1]! : 0;
		if (v > before + 1e-6) {
			if (!climbing) {
				climbing = true;
				counted = false;
				low = before;
				lowAt = timeS[i]!;
			}
			if (!counted && v - low >= STEP_DEG - 1e-6) {
				steps++;
				counted = true;
			}
			if (counted && timeS[i]! - lowAt > BLIP_S && v - low >= 2 * STEP_DEG - 1e-6) {
				steps++;
				low = v;
				lowAt = timeS[i]!;
			}
			if (v > high) high = v;
		} else {
			climbing = false;
			if (v < high / 2) {
				best = Math.max(best, steps);
				steps = 0;
				high = v;
			}
		}
	}
	return Math.max(best, steps);
}

function growth(retard: Float32Array, timeS: Float64Array, from: number, to: number): number {
	return theilSen(timeS.subarray(from, to + 1), retard.subarray(from, to + 1));
}

function region(e: Episode): number {
	return Number.isFinite(e.rpm) ? Math.floor(e.rpm / REGION_RPM) : -1;
}

/** Classifies every episode. Episodes outside pulls are grouped by loaded or not. */
export function judge(
	episodes: readonly Episode[],
	retard: Float32Array,
	timeS: Float64Array,
	pulls: readonly Segment[]
): JudgedEpisode[] {
	const judged: JudgedEpisode[] = episodes.map((e) => ({
		...e,
		shape: 'unclear',
		because: 'neither a staircase nor scattered blips: treated as real'
	}));
	const real = (e: JudgedEpisode, because: string) => {
		e.shape = 'real';
		e.because = because;
	};
	for (const e of judged) {
		const steps = upwardSteps(retard, timeS, e.from, e.to);
		if (steps >= 2) {
			const slope = growth(retard, timeS, e.from, e.peakAt);
			real(
				e,
				`${steps} steps up without falling back under half${slope > 0 ? `, growing ${fixed(slope, 1)} °/s` : ''}`
			);
		}
	}
	pulls.forEach((pull, p) => {
		const mine = judged.filter((e) => e.pull === p && e.shape !== 'real');
		for (const e of mine) {
			// From the onset of this episode's region to the lift, or to where the engine leaves the region.
			const others = judged.filter((o) => o.pull === p && region(o) === region(e));
			const onset = others[0]!.from;
			const present = others.reduce((s, o) => s + o.seconds, 0);
			const span = timeS[pull.to]! - timeS[onset]!;
			const slope = growth(retard, timeS, onset, pull.to);
			if (span > 0.3 && present >= PRESENT_SHARE * span && slope > GROWING_DEG_PER_S)
				real(
					e,
					`there for ${Math.round((100 * present) / span)} % of the time to the lift, growing ${fixed(slope, 1)} °/s`
				);
		}
	});
	repeating(judged, real);
	blips(judged, pulls);
	return judged;
}

/** The same cell in two or more pulls with a growing peak, or with an episode of 0.3 s and more. */
function repeating(judged: JudgedEpisode[], real: (e: JudgedEpisode, because: string) => void): void {
	const cells = new Map<string, JudgedEpisode[]>();
	for (const e of judged) {
		if (e.pull < 0 || !Number.isFinite(e.rpm)) continue;
		const key = `${Math.round(e.rpm / CELL_RPM)}|${Number.isFinite(e.mapKpa) ? Math.round(e.mapKpa / CELL_KPA) : ''}`;
		cells.set(key, [...(cells.get(key) ?? []), e]);
	}
	for (const list of cells.values()) {
		const peaks = [...new Set(list.map((e) => e.pull))].map((p) =>
			Math.max(...list.filter((e) => e.pull === p).map((e) => e.peakDeg))
		);
		if (peaks.length < 2) continue;
		const growing = peaks.every((v, i) => i === 0 || v >= peaks[i - 1]! + STEP_DEG);
		const long = list.some((e) => e.seconds >= BLIP_S);
		if (!growing && !long) continue;
		for (const e of list)
			if (e.shape !== 'real') {
				e.repeats = true;
				real(
					e,
					`in the same cell in ${peaks.length} pulls, ${growing ? 'each time worse' : 'lasting 0.3 s or more'}`
				);
			}
	}
}

/** Five or more short episodes in a pull, back to zero in between, under a quarter of its time, not growing. */
function blips(judged: JudgedEpisode[], pulls: readonly Segment[]): void {
	pulls.forEach((pull, p) => {
		const mine = judged.filter((e) => e.pull === p && e.shape !== 'real');
		const short = mine.filter((e) => e.seconds < BLIP_S);
		if (short.length < BLIPS || short.length < mine.length) return;
		const together = short.reduce((s, e) => s + e.seconds, 0);
		const share = together / (pull.toS - pull.fromS);
		const slope = theilSen(
			short.map((e) => e.fromS),
			short.map((e) => e.peakDeg)
		);
		if (share >= BLIP_SHARE || slope > GROWING_DEG_PER_S) return;
		for (const e of short) {
			e.shape = 'blips';
			e.because = `one of ${short.length} short blips in this pull, together ${Math.round(100 * share)} % of its time, not growing`;
		}
	});
}
