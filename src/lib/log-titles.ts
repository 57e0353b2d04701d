/** What people call the logs of a job: by revision, day and what was driven ("R1, 24 Nov, full throttle"); the file's name is a detail. */

export interface Titled {
	revision: number;
	receivedAt: string;
	kind: 'drive' | 'problem';
	/** Pulls in it; `null` while nobody has looked. */
	pulls: number | null;
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
const CLOCK = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: 'UTC' });

function driven({ kind, pulls }: Titled): string {
	if (kind === 'problem') return 'a problem';
	return pulls === null ? 'not read' : pulls > 0 ? 'full throttle' : 'no full throttle';
}

/**
 * One title a log, in their order; where two would be the same, the time of day or else their number tells them apart.
 * @example logTitles([{ revision: 1, receivedAt: '2026-11-24T09:00:00Z', kind: 'drive', pulls: 2 }]) // ['R1, 24 Nov, full throttle']
 */
export function logTitles(logs: readonly Titled[]): string[] {
	const plain = (l: Titled, time = '') =>
		`R${l.revision}, ${DAY.format(new Date(l.receivedAt))}${time}, ${driven(l)}`;
	const timed = (l: Titled) => plain(l, ` ${CLOCK.format(new Date(l.receivedAt))}`);
	const twice = (titles: readonly string[]) => new Set(titles.filter((t, i) => titles.indexOf(t) !== i));
	const short = logs.map((l) => plain(l));
	const same = twice(short);
	const longer = logs.map((l, i) => (same.has(short[i]!) ? timed(l) : short[i]!));
	const still = twice(longer);
	const count = new Map<string, number>();
	return longer.map((t) => {
		if (!still.has(t)) return t;
		const n = (count.get(t) ?? 0) + 1;
		count.set(t, n);
		return `${t} (${n})`;
	});
}
