/** Which logs still tell of this engine: same hardware, same fuel, same state of the learned trims, nothing that makes them unbelievable. */
import { fixed } from '../format.ts';
import type { Calibration } from '../calibration/document.ts';
import { ethanolPctOf, SAME_FUEL_POINTS } from '../evidence/ethanol.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { doubts } from '../screening/codes.ts';
import type { Finding } from '../screening/types.ts';

/** A screened log ready to propose from. */
export interface Evidence {
	input: Prepared;
	findings: readonly Finding[];
}

/** A log, and why it doesn't speak for the revision; `null` where it does. */
export interface Hearing {
	evidence: Evidence;
	/** It was made with the revision that is to be changed. */
	own: boolean;
	silent: string | null;
}

const LEARNED_PCT = 2;

type Head = Pick<Finding, 'code' | 'severity'>;

/** Nothing may be learnt from a log with this finding: it tells of another car, of trims that weren't reset, or of another file. */
export const silences = (f: Head): boolean =>
	(isOpen(f) && doubts(f.code, 'everything')) || (f.severity === 'stop' && doubts(f.code, 'revision'));

export const isOpen = (f: Head): boolean => f.severity === 'stop' || f.severity === 'fix';

/** Whether two calibrations say the same, whoever read them. */
export function sameContent(a: Calibration, b: Calibration): boolean {
	return (
		a === b ||
		(a.fuelModel === b.fuelModel &&
			JSON.stringify([a.items, a.blends ?? null]) === JSON.stringify([b.items, b.blends ?? null]))
	);
}

/** Whether a log was made with a revision, or with one that says the same. */
export const madeWith = (e: Evidence, base: Calibration): boolean =>
	e.input.calibration !== null && sameContent(e.input.calibration, base);

/** Largest learned trim of a log, percent; `null` where none is logged. */
export function learnedPct(input: Prepared): number | null {
	const columns = [1, 2].flatMap((b) => input.frame.get(`ltft.b${b}`) ?? []);
	if (columns.length === 0) return null;
	let most = 0;
	for (const v of columns)
		for (let i = 0; i < v.length; i++) if (Math.abs(v[i]!) > most) most = Math.abs(v[i]!);
	return most;
}

/** Learned trims that matter: what they hold has to be reset once it stands in the table, or it counts twice. */
export const hasLearned = (input: Prepared): boolean => (learnedPct(input) ?? 0) > LEARNED_PCT;

/** A log with this finding doesn't speak beside another: its mixture can't be believed, or what it tells was mended since. */
export const hushes = (f: Head): boolean =>
	silences(f) ||
	(isOpen(f) && (doubts(f.code, 'reading') || doubts(f.code, 'fuel') || doubts(f.code, 'pulse')));

/**
 * @param evidence logs made with `base`, and older ones
 * @param base the revision that is to be changed
 */
export function hear(evidence: readonly Evidence[], base: Calibration): Hearing[] {
	const all = evidence.map((e) => ({
		evidence: e,
		own: madeWith(e, base)
	}));
	const newest = all.find((h) => h.own)?.evidence.input ?? all[0]?.evidence.input;
	const ethanol = newest ? ethanolPctOf(newest) : null;
	const learned = newest ? learnedPct(newest) : null;
	return all.map(({ evidence: e, own }): Hearing => {
		const said = own ? null : whyNot(e, base, ethanol, learned);
		return { evidence: e, own, silent: said };
	});
}

function whyNot(
	{ input, findings }: Evidence,
	base: Calibration,
	ethanolPct: number | null,
	learned: number | null
): string | null {
	const { calibration } = input;
	if (!calibration) return 'it is not known which revision it was made with';
	if (calibration.fuelModel !== base.fuelModel) return 'another fuel model';
	const open = findings.find(hushes);
	if (open) return open.title;
	const own = ethanolPctOf(input);
	if (own !== null && ethanolPct !== null && Math.abs(own - ethanolPct) > SAME_FUEL_POINTS)
		return `another fuel: ${fixed(own, 0)} % ethanol, then ${fixed(ethanolPct, 0)} %`;
	const then = learnedPct(input);
	if ((then === null) !== (learned === null) && Math.max(then ?? 0, learned ?? 0) > LEARNED_PCT)
		return 'its learned trims are not known, and they matter';
	return null;
}
