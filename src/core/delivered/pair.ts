/** A line of delivery link by link: what a link should follow, what it did, and where they part. Pictures are drawn from it. */
import type { Line, Link, LinkName } from './line.ts';

export interface Pair {
	from: LinkName;
	to: LinkName;
	/** Canonical unit of both. */
	unit: string;
	/** What the link should follow; null where nothing of its unit stands before it. */
	expected: { title: string; values: (number | null)[] } | null;
	got: { title: string; values: (number | null)[] };
	/** `shown`: drawn, and follows nothing that could be told. */
	state: 'follows' | 'broken' | 'missing' | 'shown';
	/** Why it can't be told, and the channels that would tell it. */
	missing: string | null;
	asks: readonly string[];
	/** Greatest difference within the broken place, got − expected, and where on the axis. */
	worst: { difference: number; at: number } | null;
}

/** The link before `at` that says the same quantity in the same unit. */
function followed(links: readonly Link[], at: number): Link | null {
	const own = links[at]!;
	return links.slice(0, at).findLast((l) => l.missing === null && l.unit === own.unit) ?? null;
}

function worstOf(line: Line, expected: readonly (number | null)[], got: Link): Pair['worst'] {
	let worst: Pair['worst'] = null;
	line.axis.points.forEach((at, i) => {
		const [a, b] = [expected[i] ?? null, got.values[i] ?? null];
		if (a === null || b === null) return;
		if (line.broken?.from !== undefined && (at < line.broken.from || at > (line.broken.to ?? at))) return;
		if (Math.abs(b - a) > Math.abs(worst?.difference ?? 0)) worst = { difference: b - a, at };
	});
	return worst;
}

/** @returns one pair for each link but the first; a break that stands in the first link itself marks the first pair */
export function pairsOf(line: Line): Pair[] {
	const { links, broken } = line;
	return links.slice(1).map((got, n) => {
		const before = got.against === 'itself' ? null : followed(links, n + 1);
		const expected =
			got.against === 'itself'
				? { title: 'its own level', values: got.values.map((v) => (v === null ? null : 0)) }
				: before && { title: before.title, values: before.values };
		const isBroken = broken?.at === got.name || (n === 0 && broken?.at === links[0]!.name);
		const state = isBroken
			? 'broken'
			: got.missing !== null
				? 'missing'
				: expected && got.against !== 'nothing'
					? 'follows'
					: 'shown';
		return {
			from: links[n]!.name,
			to: got.name,
			unit: got.unit,
			expected,
			got: { title: got.title, values: got.values },
			state,
			missing: got.missing,
			asks: got.asks ?? [],
			worst: isBroken && expected ? worstOf(line, expected.values, got) : null
		};
	});
}
