/** How grave a place is: by what is certain of it. */
import { certainly, type Place } from '../evidence/cells/places.ts';
import { rank, type Severity } from './types.ts';

/**
 * Severity of a place: the highest limit that it certainly exceeds; an estimate beyond the `fix` limit that isn't certain of it is `watch`.
 * @param limits in the unit of the place's mean; the sign doesn't matter
 */
export function gradePlace(
	place: Pick<Place, 'mean' | 'se'>,
	limits: { watch: number; fix: number; stop: number }
): { severity: Severity; limit: number } | null {
	const sure = Math.abs(certainly(place));
	for (const severity of ['stop', 'fix', 'watch'] as const)
		if (sure > limits[severity]) return { severity, limit: limits[severity] };
	return Math.abs(place.mean) > limits.fix ? { severity: 'watch', limit: limits.fix } : null;
}

/** The place that decides: the gravest, and of equals the one that is certainly farthest off. */
export function worstPlace(
	places: readonly Place[],
	limits: { watch: number; fix: number; stop: number }
): { place: Place; severity: Severity; limit: number } | null {
	let worst: { place: Place; severity: Severity; limit: number } | null = null;
	for (const place of places) {
		const graded = gradePlace(place, limits);
		if (!graded) continue;
		if (
			!worst ||
			rank(graded.severity) < rank(worst.severity) ||
			(graded.severity === worst.severity && Math.abs(certainly(place)) > Math.abs(certainly(worst.place)))
		)
			worst = { place, ...graded };
	}
	return worst;
}
