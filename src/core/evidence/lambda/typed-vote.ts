/**
 * A mixture that was read off a film or a dyno sheet is a witness at its speeds: it adds and it vetoes. Where it is leaner than what was logged, that is
 * believed; where it is richer, nothing is taken out. It never is the second witness that lets more fuel come out at once.
 */
import { FLAG } from '../segments/kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Segments } from '../segments/segments.ts';
import type { Believed } from './believed.ts';

/** A typed mixture at an engine speed; `half` is half of its last digit, λ. */
export interface TypedMixture {
	rpm: number;
	lambda: number;
	half: number;
}

/** A typed mixture against what was logged there. */
export interface TypedVote {
	rpm: number;
	typed: number;
	logged: number;
	/** Typed against logged, percent; positive is leaner. */
	offPct: number;
	/** How far apart they may be by the film and the last digit, percent. */
	carriesPct: number;
}

const WITHIN_RPM = 250;
/** What a film or a dial may be off beside its last digit. Own choice. */
const FILM_PCT = 3;
const LEAST_S = 0.3;

const nearest = (typed: readonly TypedMixture[], rpm: number): number => {
	let best = -1;
	for (let k = 0; k < typed.length; k++) {
		const far = Math.abs(typed[k]!.rpm - rpm);
		if (far <= WITHIN_RPM && (best < 0 || far < Math.abs(typed[best]!.rpm - rpm))) best = k;
	}
	return best;
};

/** @returns what is believed with the typed readings heard, and each of them against the log */
export function withTyped(
	believed: Believed,
	frame: Frame,
	segments: Segments,
	typed: readonly TypedMixture[]
): { believed: Believed; votes: TypedVote[] } {
	const rpm = frame.get('rpm');
	const banks = believed.banks.filter((b): b is Float32Array => b !== null);
	if (typed.length === 0 || !rpm || banks.length === 0) return { believed, votes: [] };
	const of = new Int16Array(frame.length).fill(-1);
	const sum = new Float64Array(typed.length);
	const time = new Float64Array(typed.length);
	for (let i = 0; i < frame.length; i++) {
		if (!(segments.flags[i]! & FLAG.loaded)) continue;
		const k = nearest(typed, rpm[i]!);
		if (k < 0) continue;
		of[i] = k;
		const mean = banks.reduce((s, b) => s + b[i]!, 0) / banks.length;
		if (mean !== mean) continue;
		sum[k]! += mean * frame.dtS[i]!;
		time[k]! += frame.dtS[i]!;
	}
	const votes = typed.map((t, k): TypedVote | null => {
		if (time[k]! < LEAST_S) return null;
		const logged = sum[k]! / time[k]!;
		return {
			rpm: t.rpm,
			typed: t.lambda,
			logged,
			offPct: 100 * (t.lambda / logged - 1),
			carriesPct: FILM_PCT + (100 * t.half) / logged
		};
	});
	const doubtful = believed.doubtful.slice();
	const scaled = believed.banks.map((b) => b?.slice() ?? null);
	for (let i = 0; i < frame.length; i++) {
		const vote = of[i]! >= 0 ? votes[of[i]!] : null;
		if (!vote || Math.abs(vote.offPct) <= vote.carriesPct) continue;
		doubtful[i] = 1;
		if (vote.offPct > 0) for (const b of scaled) if (b) b[i] = b[i]! * (1 + vote.offPct / 100);
	}
	return {
		believed: { ...believed, banks: scaled, doubtful },
		votes: votes.filter((v): v is TypedVote => v !== null)
	};
}
