/** Readiness before an event on one page: each item, what was seen, the vehicle's own baseline, go or don't go. */
import type { Vehicle } from '../vehicle/document.ts';
import type { Check } from './check.ts';
import { CHECKS } from './codes.ts';
import type { Report } from './report.ts';
import type { Profile } from '../limits/profile.ts';
import { rank, type Severity } from './types.ts';

export interface ReadinessLine {
	code: string;
	item: string;
	/** What was seen, or why nothing was. */
	seen: string;
	/** What it is held against. */
	against: string;
	state: 'go' | 'look' | 'no-go' | Unseen;
}

/** Why nothing was seen: no channel of it, the driving for it isn't in the log, or the vehicle sheet doesn't state it. */
export type Unseen = 'not-recorded' | 'not-driven' | 'not-stated';

export const isUnseen = (state: ReadinessLine['state']): state is Unseen => state.startsWith('not-');

function unseenBecause(missing: string | undefined): Unseen {
	if (missing === undefined) return 'not-recorded';
	if (missing.startsWith('vehicle')) return 'not-stated';
	// A channel is one word, a kind of driving several.
	return missing.includes(' ') ? 'not-driven' : 'not-recorded';
}

const STATE: Record<Severity, ReadinessLine['state']> = {
	stop: 'no-go',
	fix: 'no-go',
	watch: 'look',
	note: 'look'
};

export function readinessLines(report: Report, vehicle: Vehicle, profile: Profile): ReadinessLine[] {
	return CHECKS.flatMap((c: Check): ReadinessLine[] => {
		if (!c.readiness) return [];
		const { code } = c;
		const { item, against } = c.readiness;
		const line = report.checks.find((c) => c.code === code);
		const worst = report.findings
			.filter((f) => f.code === code)
			.sort((a, b) => rank(a.severity) - rank(b.severity))[0];
		return [
			{
				code,
				item,
				seen: worst?.said?.summary ?? worst?.summary ?? line?.said ?? line?.reason ?? 'not in this log',
				against: against(vehicle, profile),
				state: worst ? STATE[worst.severity] : line?.outcome === 'pass' ? 'go' : unseenBecause(line?.missing)
			}
		];
	});
}

/**
 * Don't go while anything in the log stands at stop or fix, whether the sheet has a line for it or not. Nobody goes on what wasn't
 * checked either, but that is for a person to say.
 */
export function goOrNot(report: Report, lines: readonly ReadinessLine[]): { go: boolean; why: string } {
	const serious = report.findings.filter((f) => f.severity === 'stop' || f.severity === 'fix');
	if (serious.length) return { go: false, why: `Don't go: ${serious.map((f) => f.title).join('; ')}.` };
	const unseen = lines.filter((l) => isUnseen(l.state));
	const odd = lines.filter((l) => l.state === 'look');
	const look = odd.length ? ` Look at ${odd.map((l) => l.item.toLowerCase()).join(', ')}.` : '';
	return {
		go: true,
		why:
			(unseen.length
				? `Go, as far as it was seen: ${unseen.map((l) => l.item.toLowerCase()).join(', ')} not checked.`
				: 'Go.') + look
	};
}

/** An item outside the band that this car keeps by itself is one to look at, though no limit is passed. */
export function withOwnBands(lines: readonly ReadinessLine[], outside: ReadonlySet<string>): ReadinessLine[] {
	return lines.map((l) => (l.state === 'go' && outside.has(l.code) ? { ...l, state: 'look' } : l));
}
