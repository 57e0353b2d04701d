/**
 * Pairs as people write or paste them, as `a:b a:b`: "8: 2.4, 10: 1.6", two columns out of a flow sheet, or two rows of it.
 * @example pairText('8\t2.4\n10\t1.6') // '8:2.4 10:1.6'
 */
export function pairText(text: string): string {
	const rows = text
		.trim()
		.split(/\r?\n/)
		.map((r) => r.trim().split(/[\t ]+/));
	if (!text.includes(':') && rows.length > 1) {
		if (rows.every((r) => r.length === 2)) return rows.map((r) => r.join(':')).join(' ');
		const [a, b] = rows;
		if (rows.length === 2 && a!.length === b!.length) return a!.map((v, i) => `${v}:${b![i]}`).join(' ');
	}
	return text.replace(/\s*:\s*/g, ':').replace(/,\s+/g, ' ');
}
