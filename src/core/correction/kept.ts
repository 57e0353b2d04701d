/**
 * What it takes to leave the mixture under load as it is. Learned and closed-loop trims hold fuel that no table has; once the table is right they
 * are reset, and an engine that ran rich under load by their fuel runs at its target: leaner than before, although no cell lost anything.
 */
import type { Prepared } from '../evidence/prepared.ts';
import { learnedActs } from '../evidence/lambda/required.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { LOADED, type Reading, type Samples } from './samples.ts';

/** Fuel that the trims add, share of what the table gives: the mean of the banks whose trims are logged; 1 without any. */
function trimsOf({ frame, segments, vehicle }: Prepared): Float32Array | null {
	const rule = vehicle.controller?.learnedTrimAtFullLoad;
	const banks = [1, 2].flatMap((bank) => {
		const [short, learned] = [frame.get(`stft.b${bank}`), frame.get(`ltft.b${bank}`)];
		return short || learned ? [{ short, learned }] : [];
	});
	if (banks.length === 0) return null;
	const factor = (column: Float32Array | null, i: number) => {
		const v = column?.[i] ?? 0;
		return v === v ? 1 + v / 100 : 1;
	};
	const acts = (learned: Float32Array | null, i: number) =>
		learnedActs(rule, (segments.flags[i]! & FLAG.loaded) !== 0, learned?.[i] ?? 0) ? factor(learned, i) : 1;
	const out = new Float32Array(frame.length);
	for (let i = 0; i < out.length; i++) {
		let sum = 0;
		for (const b of banks) sum += factor(b.short, i) * acts(b.learned, i);
		out[i] = sum / banks.length;
	}
	return out;
}

/**
 * @param logs behind the samples, in the order of their indices
 * @param reading what the samples were read by
 * @param count how many nodes there are
 * @returns per node the change, as a share of its value, with which the mixture under load stays as it was logged; NaN where no loaded sample is
 */
export function keptNodes(
	logs: readonly Prepared[],
	reading: Reading,
	s: Samples,
	count: number
): Float64Array {
	const trims = logs.map(trimsOf);
	const required = logs.map((l) => reading(l));
	const sum = new Float64Array(count);
	const weight = new Float64Array(count);
	for (let i = 0; i < s.count; i++) {
		const [log, at] = [s.log[i]!, s.index[i]!];
		const held = s.band[i] === LOADED ? trims[log]?.[at] : undefined;
		if (held === undefined) continue;
		// z stands against the newest revision; what it was before that says how far the two revisions are apart here.
		const kept = (held * (1 + s.z[i]!)) / required[log]![at]! - 1;
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) {
			sum[s.node[e]!]! += s.b[e]! * kept;
			weight[s.node[e]!]! += s.b[e]!;
		}
	}
	return sum.map((v, n) => (weight[n]! > 0 ? v / weight[n]! : Number.NaN));
}
