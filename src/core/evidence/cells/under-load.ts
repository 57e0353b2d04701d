/** Places under load where what a sensor sees is a mixture: loaded, usable, away from cuts, shifts and misfires. */
import { FLAG } from '../segments/kinds.ts';
import { usable } from '../lambda/required.ts';
import type { Prepared } from '../prepared.ts';
import { placesOf, type Place } from './places.ts';

/**
 * Means of a value by 500 rpm of that driving.
 * @param value one per sample, NaN where it says nothing
 * @returns empty without engine speed
 */
export function placesUnderLoad({ frame, segments, believed }: Prepared, value: Float32Array): Place[] {
	const rpm = frame.get('rpm');
	if (!rpm) return [];
	const band = Uint8Array.from(segments.flags, (f, i) =>
		f & FLAG.loaded && !believed.hidden[i] && usable(segments, i) ? 0 : 255
	);
	return placesOf({ rpm, value, band, timeS: frame.timeS, dtS: frame.dtS });
}
