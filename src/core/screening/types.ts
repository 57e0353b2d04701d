/** What a check answers, and how bad it is. */
import type { Report } from './report.ts';

export type Severity = 'stop' | 'fix' | 'watch' | 'note';
export type Verdict = 'stop' | 'fix' | 'watch' | 'clear';
export const SEVERITIES: readonly Severity[] = ['stop', 'fix', 'watch', 'note'];

/** A finding as the report carries it. */
export type Finding = Report['findings'][number];

export type CheckResult =
	| { outcome: 'pass'; text: string }
	| { outcome: 'found'; findings: Finding[]; text?: string }
	/** `missing` names what would make the check possible: a channel, a vehicle fact, a kind of driving. */
	| { outcome: 'not-checked'; reason: string; missing: string };

export function worst(severities: Iterable<Severity>): Severity | null {
	let best: Severity | null = null;
	for (const s of severities) if (best === null || SEVERITIES.indexOf(s) < SEVERITIES.indexOf(best)) best = s;
	return best;
}

/** Severity by limits: beyond `stop`, `fix` or `watch`; `null` when beyond none. */
export function graded(
	value: number,
	limits: { watch: number; fix: number; stop: number }
): { severity: Severity; limit: number } | null {
	if (value > limits.stop) return { severity: 'stop', limit: limits.stop };
	if (value > limits.fix) return { severity: 'fix', limit: limits.fix };
	if (value > limits.watch) return { severity: 'watch', limit: limits.watch };
	return null;
}

/** What makes a finding the same one in another log: its code, what of it, and whom it is about. One of a kind in a report. */
export function findingKey(f: Pick<Finding, 'code' | 'kind' | 'bank' | 'cylinder'>): string {
	return [f.code, f.kind ?? '', f.bank ? `b${f.bank}` : '', f.cylinder ? `c${f.cylinder}` : '']
		.filter(Boolean)
		.join(' ');
}
