/** Small helpers for sentences with numbers. */

export function signed(value: number, decimals = 1): string {
	const text = Math.abs(value).toFixed(decimals);
	return value < 0 ? `−${text}` : `+${text}`;
}

export function seconds(s: number): string {
	const m = Math.floor(s / 60);
	return m > 0 ? `${m}:${String(Math.floor(s % 60)).padStart(2, '0')} min` : `${s.toFixed(1)} s`;
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
