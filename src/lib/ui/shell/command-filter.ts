/** How well a command fits what was typed: it begins with it, holds it, or has all of its words, by whatever name; else not at all. */
export function commandScore(title: string, typed: string, also: readonly string[] = []): number {
	const wanted = typed.trim().toLowerCase();
	const name = title.toLowerCase();
	if (wanted === '') return 1;
	if (name.startsWith(wanted)) return 1;
	if (name.includes(wanted)) return 0.8;
	const all = `${name} ${also.join(' ').toLowerCase()}`;
	return wanted.split(/\s+/).every((word) => all.includes(word)) ? 0.5 : 0;
}
