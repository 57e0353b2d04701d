/** Numbers and words as people read them: the one place that rounds for reading. */

/** With so many decimals; the half goes away from zero as a reader would do it. @example fixed(1.005, 2) // "1.01" */
export function fixed(value: number, decimals: number): string {
	// Binary fractions fall short of the half that was written: 1.005 is 1.00499….
	const lifted = value === 0 ? 0 : value * (1 + Number.EPSILON);
	const text = lifted.toFixed(decimals);
	return Number(text) === 0 ? text.replace('-', '') : text;
}

/** The same, or a dash where there is no number. */
export const fixedOrDash = (value: number | null | undefined, decimals: number): string =>
	value === null || value === undefined || Number.isNaN(value) ? '–' : fixed(value, decimals);

export function signed(value: number, decimals = 1): string {
	const text = fixed(Math.abs(value), decimals);
	return value < 0 ? `−${text}` : `+${text}`;
}

export function seconds(s: number): string {
	const m = Math.floor(s / 60);
	return m > 0 ? `${m}:${String(Math.floor(s % 60)).padStart(2, '0')} min` : `${fixed(s, 1)} s`;
}

export function list(items: readonly string[], last = 'and'): string {
	if (items.length <= 1) return items[0] ?? '';
	return `${items.slice(0, -1).join(', ')} ${last} ${items[items.length - 1]}`;
}

export function plural(n: number, one: string, many = `${one}s`): string {
	return `${n} ${n === 1 ? one : many}`;
}

export function uncapital(text: string): string {
	return text.charAt(0).toLowerCase() + text.slice(1);
}
