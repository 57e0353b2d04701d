/** What a check answers, and how bad it is. */
import type { Report } from './report.ts';

export type Severity = 'stop' | 'fix' | 'watch' | 'note';
export type Verdict = 'stop' | 'fix' | 'watch' | 'clear';
export const SEVERITIES: readonly Severity[] = ['stop', 'fix', 'watch', 'note'];

/** A finding as the report carries it. */
export type Finding = Report['findings'][number];

/** What only words say. They are made from the rest, at the end. */
export interface Words {
	title: string;
	/** One sentence with the numbers. */
	summary: string;
	/** In the order to look. */
	causes: readonly string[];
	next: readonly string[];
}

/** A finding before its words. */
export type Wordless = Omit<Finding, keyof Words | 'said'>;

/** The facts of a finding as plain values. Their types are those of the check that raised it; of an older version's report some may be missing. */
export const factsOf = <Facts extends object>(f: Pick<Finding, 'facts'>): Partial<Facts> =>
	Object.fromEntries(
		Object.entries(f.facts ?? {}).map(([name, fact]) => [name, fact.value])
	) as Partial<Facts>;

/** What a check raises: all of a finding but its code, its id and its words. Facts are plain values; their units stand with the check. */
export type Raised<Facts extends object = object> = Omit<Wordless, 'code' | 'id' | 'because' | 'facts'> & {
	facts: Facts;
};

export type CheckResult<Facts extends object = object> =
	| { outcome: 'pass'; text: string }
	| { outcome: 'found'; findings: Raised<Facts>[] }
	/** `missing` names what would make the check possible: a channel, a vehicle fact, a kind of driving. */
	| { outcome: 'not-checked'; reason: string; missing: string };

/** How bad, as a number: the lower the worse. */
export const rank = (s: Severity): number => SEVERITIES.indexOf(s);

export function worst(severities: Iterable<Severity>): Severity | null {
	let best: Severity | null = null;
	for (const s of severities) if (best === null || rank(s) < rank(best)) best = s;
	return best;
}

/**
 * Severity by limits: the worst whose limit the value goes beyond; `null` where it goes beyond none.
 * @param limits those that there are; a check without a stop leaves it out
 * @param edge whether the limit itself still counts as within (`beyond`) or already as over (`from`)
 * @example grade(86, { watch: 80, fix: 85, stop: 95 }) // { severity: 'fix', limit: 85 }
 */
export function grade(
	value: number,
	limits: { watch?: number; fix?: number; stop?: number },
	edge: 'beyond' | 'from' = 'beyond'
): { severity: Severity; limit: number } | null {
	for (const severity of ['stop', 'fix', 'watch'] as const) {
		const limit = limits[severity];
		if (limit !== undefined && (value > limit || (edge === 'from' && value === limit)))
			return { severity, limit };
	}
	return null;
}

/** What makes a finding the same one in another log: its code, what of it, and whom it is about. One of a kind in a report. */
export function findingKey(f: Pick<Finding, 'code' | 'kind' | 'bank' | 'cylinder'>): string {
	return [f.code, f.kind ?? '', f.bank ? `b${f.bank}` : '', f.cylinder ? `c${f.cylinder}` : '']
		.filter(Boolean)
		.join(' ');
}
