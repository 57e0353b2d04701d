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
export function placesUnderLoad(input: Prepared, value: Float32Array): Place[] {
	const { frame } = input;
	const rpm = frame.get('rpm');
	if (!rpm) return [];
	return placesOf({ rpm, value, band: bandOf(input), timeS: frame.timeS, dtS: frame.dtS });
}

/** The band of that driving is asked for once for every cylinder of a log: 0 in it, 255 elsewhere. */
const known = new WeakMap<Prepared, Uint8Array>();
function bandOf(input: Prepared): Uint8Array {
	const before = known.get(input);
	if (before) return before;
	const { segments, believed } = input;
	const band = new Uint8Array(segments.flags.length).fill(255);
	for (let i = 0; i < band.length; i++)
		if (segments.flags[i]! & FLAG.loaded && !believed.hidden[i] && usable(segments, i)) band[i] = 0;
	known.set(input, band);
	return band;
}
