/** Lean against rich as colour: a diverging scale through the ground colour; the sign is always printed as well. */
import { fixed } from '$core/format';

/** The full tone at this many percent, and how much of it is mixed in then: ink stays readable on it in both themes. */
const FULL_PCT = 10;
const FULL_MIX = 50;

/**
 * Background of a cell.
 * @param percent positive wants fuel (lean), negative has too much (rich)
 */
export function tint(percent: number | null): string {
	if (percent === null) return 'transparent';
	const share = Math.min(1, Math.abs(percent) / FULL_PCT) * FULL_MIX;
	return `color-mix(in oklab, var(${percent > 0 ? '--lean' : '--rich'}) ${fixed(share, 0)}%, var(--sheet))`;
}

/** Samples from which a cell counts as proven. */
const PROVEN = 40;

/** Side of the inked square as a share of its field, 0–1: a full square is proven, a dot is a guess. */
export function trust(samples: number): number {
	if (samples <= 0) return 0;
	return Math.max(0.22, Math.min(1, Math.sqrt(samples / PROVEN)));
}

/** The same for what is known by a posterior: below half of the doubt taken away it is a dot. */
export function certain(share: number): number {
	return Math.max(0.22, Math.min(1, ((share - 0.5) / 0.5) ** 2));
}

export function signedText(percent: number, decimals = 1): string {
	const text = fixed(Math.abs(percent), decimals);
	return Number(text) === 0 ? text : `${percent < 0 ? '−' : '+'}${text}`;
}

/** Background on a scale from the lowest to the highest of what is shown: more ink is more. */
export function shade(value: number | null, low: number, high: number): string {
	if (value === null || !(high > low)) return 'transparent';
	return `color-mix(in oklab, var(--trace-1) ${fixed(38 * ((value - low) / (high - low)), 0)}%, var(--sheet))`;
}
