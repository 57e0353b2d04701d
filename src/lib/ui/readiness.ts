/** The readiness sheet as its reader has it, of the workshop and of the customer. */
import { fixed } from '$core/format';
import type { OwnLevel } from '$core/screening/levels';
import type { ReadinessLine } from '$core/screening/readiness-sheet';
import type { Preferences } from './preferences.svelte';

/** Shape of each state of a line. */
export const READINESS_MARK = {
	go: 'pass',
	look: 'watch',
	'no-go': 'stop',
	'not-recorded': 'not-checked',
	'not-driven': 'not-checked',
	'not-stated': 'not-checked'
} as const satisfies Record<ReadinessLine['state'], string>;

/** A level in the reader's units; a difference has no offset there. */
export function levelText(
	preferences: Preferences,
	o: Pick<OwnLevel, 'unit' | 'by' | 'decimals'>,
	v: number
): string {
	const shown = preferences.shown(v, o.unit);
	const value = o.by ? shown.value - preferences.shown(0, o.unit).value : shown.value;
	return `${fixed(value, Math.max(o.decimals, shown.unit === o.unit ? 0 : shown.decimals))} ${shown.unit}`;
}
