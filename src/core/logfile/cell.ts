/** The slow path of reading: one cell as text, when it isn't a plain decimal number. */

const WORDS: Record<string, number> = {
	on: 1,
	true: 1,
	yes: 1,
	active: 1,
	off: 0,
	false: 0,
	no: 0,
	inactive: 0
};
const CLOCK = /^(?:(\d{4})-(\d\d)-(\d\d)[T ])?(\d{1,3}):(\d\d)(?::(\d\d(?:[.,]\d+)?))?(Z|[+-]\d\d:?\d\d)?$/;

/** Beyond what 32-bit storage holds; nothing in a car is measured in such numbers. */
const LARGEST = 3.4e38;

/**
 * Value of a cell: a number (decimal point, or comma when the file uses it), a switch word as 0/1, a time of day or ISO 8601
 * moment in seconds. NaN for an empty cell (`''`, `NaN`, `--`); `null` for any other text.
 */
export function parseCell(raw: string, decimalComma: boolean): number | null {
	const text = raw.trim();
	if (text === '' || /^(-+|nan|n\/a|null|#n\/a)$/i.test(text)) return Number.NaN;
	const plain = decimalComma ? text.replace(',', '.') : text;
	if (/^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(plain)) {
		const value = Number(plain);
		return Math.abs(value) <= LARGEST ? value : Number.NaN;
	}
	const word = WORDS[text.toLowerCase()];
	if (word !== undefined && Object.hasOwn(WORDS, text.toLowerCase())) return word;
	const c = CLOCK.exec(text);
	if (!c) return null;
	const [, y, mo, d, h = '0', mi = '0', s = '0', zone] = c;
	const seconds = Number(h) * 3600 + Number(mi) * 60 + Number(s.replace(',', '.'));
	if (!y) return seconds;
	let offset = 0;
	if (zone && zone !== 'Z') {
		const sign = zone[0] === '-' ? -1 : 1;
		const digits = zone.slice(1).replace(':', '');
		offset = sign * (Number(digits.slice(0, 2)) * 3600 + Number(digits.slice(2)) * 60);
	}
	return Date.UTC(Number(y), Number(mo) - 1, Number(d)) / 1000 + seconds - offset;
}
