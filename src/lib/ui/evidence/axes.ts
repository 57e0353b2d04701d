/** Axes that a reader types: breakpoints as text. */

/** Rising numbers out of what was typed, or why not. */
export function pointsFrom(text: string): { points: number[] } | { problem: string } {
	const parts = text.split(/[\s;,]+/).filter(Boolean);
	const points = parts.map(Number);
	const bad = parts.find((_, i) => !Number.isFinite(points[i]));
	if (bad !== undefined) return { problem: `“${bad}” is no number` };
	if (points.length < 2) return { problem: 'at least two breakpoints are needed' };
	if (points.length > 60) return { problem: 'at most 60 breakpoints' };
	const falls = points.findIndex((p, i) => i > 0 && p <= points[i - 1]!);
	return falls > 0
		? { problem: `breakpoints have to rise: ${parts[falls]} comes after ${parts[falls - 1]}` }
		: { points };
}
