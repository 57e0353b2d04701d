/** Bands of load: the differences of banks are judged in each by itself, because an hour's cruise must not dilute a pull. */
import { FLAG } from '../segments/kinds.ts';
import { usable } from '../lambda/required.ts';
import type { Prepared } from '../prepared.ts';

/** Index into `BANDS` per sample, 255 where a sample doesn't count. Light and medium are told apart at 40 % of pedal or throttle. */
export function loadBands(input: Pick<Prepared, 'frame' | 'segments'>): Uint8Array {
	const { frame, segments } = input;
	const opening = frame.first('pedal', 'tps');
	const map = frame.get('map');
	const out = new Uint8Array(frame.length).fill(255);
	for (let i = 0; i < out.length; i++) {
		if (!usable(segments, i)) continue;
		const f = segments.flags[i]!;
		if (f & FLAG.idle) out[i] = 0;
		else if (f & FLAG.loaded) out[i] = 3;
		else {
			const light = opening ? opening[i]! < 40 : map ? map[i]! < segments.baroKpa * 0.6 : true;
			out[i] = light ? 1 : 2;
		}
	}
	return out;
}
