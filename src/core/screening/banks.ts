/** Two banks with the same fault are one finding about both. */
import { rank, type Finding } from './types.ts';

/** A finding about one bank, and what it would be called were it about both. */
export interface OfBank {
	finding: Finding;
	both: Pick<Finding, 'title' | 'summary'>;
	/** Two of other kinds are two things. */
	kind?: string;
}

/**
 * The findings of the banks; one, in the words for both, where they differ by no more than one cause explains. The worse one gives severity,
 * value and region.
 * @param list at most one a bank
 * @param withinPct difference of their values up to which one cause explains both
 */
export function ofBanks(list: readonly OfBank[], withinPct: number): Finding[] {
	const [a, b] = list;
	if (!a || !b || a.kind !== b.kind || Math.abs(a.finding.value! - b.finding.value!) > withinPct)
		return list.map((l) => l.finding);
	const bad = (l: OfBank) => rank(l.finding.severity);
	const size = (l: OfBank) => Math.abs(l.finding.value!);
	const worse = bad(b) < bad(a) || (bad(b) === bad(a) && size(b) > size(a)) ? b : a;
	const { bank: _, ...rest } = worse.finding;
	return [
		{
			...rest,
			...worse.both,
			channels: [...new Set([...a.finding.channels, ...b.finding.channels])],
			ranges: joined([...(a.finding.ranges ?? []), ...(b.finding.ranges ?? [])])
		}
	];
}

/** Overlapping ranges as one. */
function joined(ranges: readonly { from: number; to: number }[]): { from: number; to: number }[] {
	const out: { from: number; to: number }[] = [];
	for (const r of [...ranges].sort((x, y) => x.from - y.from)) {
		const last = out[out.length - 1];
		if (last && r.from <= last.to) last.to = Math.max(last.to, r.to);
		else out.push({ ...r });
	}
	return out;
}
