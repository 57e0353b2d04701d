/** Two banks with the same fault are one finding about both. */
import { rank, type Raised } from './types.ts';

/** Among the facts of a finding that may be about a bank or about both. */
export type OfBanks = { both?: boolean };

/** Whom such a finding is about, in a sentence. @param one what to say where the banks can't be told apart, or there is only one */
export const whose = (f: { bank?: number | undefined; facts: OfBanks }, one: string): string =>
	f.facts.both ? 'both banks' : f.bank ? `bank ${f.bank}` : one;

/**
 * The findings of the banks; one about both, where they differ by no more than one cause explains. The worse one gives severity, value,
 * facts and region.
 * @param list at most one a bank
 * @param withinPct difference of their values up to which one cause explains both
 * @param alike whether two are of one kind; two of other kinds are two things
 */
export function ofBanks<Facts extends OfBanks>(
	list: readonly Raised<Facts>[],
	withinPct: number,
	alike: (a: Facts, b: Facts) => boolean = () => true
): Raised<Facts>[] {
	const [a, b] = list;
	if (!a || !b || !alike(a.facts, b.facts) || Math.abs(a.value! - b.value!) > withinPct) return [...list];
	const bad = (f: Raised) => rank(f.severity);
	const size = (f: Raised) => Math.abs(f.value!);
	const worse = bad(b) < bad(a) || (bad(b) === bad(a) && size(b) > size(a)) ? b : a;
	const { bank: _, ...rest } = worse;
	return [
		{
			...rest,
			facts: { ...worse.facts, both: true },
			channels: [...new Set([...a.channels, ...b.channels])],
			ranges: joined([...(a.ranges ?? []), ...(b.ranges ?? [])])
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
