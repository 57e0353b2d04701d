/**
 * What a proof does to later logs: in its region and on its fuel the noise is known, and nothing is done about it. It is void for a log in which the
 * same place climbs like a staircase, grows over what the proof began with, or is heard by a monitor.
 */
import { marked } from '../../format.ts';
import { ethanolPctOf } from '../ethanol.ts';
import type { Prepared } from '../prepared.ts';
import { proofMeasure, provedAt, type FalseProof } from './proof.ts';
import type { JudgedEpisode } from './shape.ts';

/** Kind of a finding whose knock is proved false: nothing is done about it. */
export const PROVED = 'proved';

/** Retard over the region may be this much larger than at the baseline, or this many degrees: more is growth. Own choice. */
const GROWS_BY = 1.5;
const GROWS_DEG = 0.3;
/** A monitor that confirms this much of the retard contradicts the proof. */
const MONITOR_HEARS = 0.25;

function holdsFor(input: Prepared, proof: FalseProof): boolean {
	const now = proofMeasure(input, proof.region);
	if (!now || now.staircase || (now.monitor ?? 0) >= MONITOR_HEARS) return false;
	const before = proof.meanRetardDeg;
	return !(now.meanRetardDeg > Math.max(before * GROWS_BY, before + GROWS_DEG));
}

/** @returns the episodes of a log, those that a proof covers with its words; `null` where no knock channel is logged */
export function withProofs(input: Prepared, proofs: readonly FalseProof[]): readonly JudgedEpisode[] | null {
	if (!input.knock || proofs.length === 0) return input.knock;
	const ethanolPct = ethanolPctOf(input);
	const standing = proofs.filter((p) => holdsFor(input, p));
	return input.knock.map((e) => {
		const proof = standing.find((p) => provedAt(p, { rpm: [e.rpm], map: [e.mapKpa] }, ethanolPct));
		if (!proof) return e;
		const [from, to] = proof.region.mapKpa;
		return {
			...e,
			proved: `proved false on this fuel from ${proof.region.rpm[0]} to ${proof.region.rpm[1]} rpm and ${marked(from, 'kPa abs')} to ${marked(to, 'kPa abs')}`
		};
	});
}
