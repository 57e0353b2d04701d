/** Knock episodes: stretches of retard, with the operating point at which the retard rose to its peak. */
import { FLAG } from '../segments/kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Segments } from '../segments/segments.ts';
import type { Profile } from '../../limits/profile.ts';
import { stretches, runSeconds } from '../../stats/runs.ts';

/** An episode ends when the retard stayed below the threshold this long. */
const CLOSE_S = 0.15;

export interface Episode {
	from: number;
	to: number;
	fromS: number;
	toS: number;
	/** Length in seconds. */
	seconds: number;
	peakDeg: number;
	/** Sample at which the retard last rose to its peak: there it knocked, not where the retard decays. */
	peakAt: number;
	/** Every step up with the level that it came to: each has a place of its own. */
	rises: { at: number; deg: number }[];
	loaded: boolean;
	/** Index into the segments' pulls; −1 outside. */
	pull: number;
	/** Cylinder with the highest retard at the peak; 0 when not logged per cylinder. */
	cylinder: number;
	rpm: number;
	mapKpa: number;
	/** g per cylinder and cycle. */
	airmassG: number;
	/** °BTDC at the peak. */
	sparkDeg: number;
}

/** Steps up of at least `stepDeg` between `from` and `to`, and the last rise to the peak. */
function risesOf(
	retard: Float32Array,
	from: number,
	to: number,
	peakAt: number,
	stepDeg: number
): Episode['rises'] {
	const out: Episode['rises'] = [];
	let low = 0;
	for (let i = from; i <= to; i++) {
		const v = retard[i]!;
		if (v - low >= stepDeg - 1e-6 || i === peakAt) {
			out.push({ at: i, deg: v });
			low = v;
		} else if (v < low) low = v;
	}
	return out;
}

/**
 * The retard to judge: the highest of the total and the cylinders, as a total may be an average of them; `null` when none is logged.
 */
export function retardOf(frame: Frame): Float32Array | null {
	const whole = frame.get('knockRetard');
	const cylinders = frame.ids.filter((id) => id.startsWith('knockRetard.cyl')).map((id) => frame.get(id)!);
	if (cylinders.length === 0) return whole;
	const out = whole ? whole.slice() : new Float32Array(frame.length).fill(Number.NaN);
	for (const c of cylinders)
		for (let i = 0; i < out.length; i++) if (!(c[i]! <= out[i]!) && c[i] === c[i]) out[i] = c[i]!;
	return out;
}

export function episodesOf(
	frame: Frame,
	retard: Float32Array,
	segments: Segments,
	profile: Profile
): Episode[] {
	const t = frame.timeS;
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	const airmass = frame.get('airmass');
	const spark = frame.first('spark', 'sparkBase');
	const cylinders = frame.ids
		.filter((id) => id.startsWith('knockRetard.cyl'))
		.map((id) => ({ number: Number(id.slice('knockRetard.cyl'.length)), values: frame.get(id)! }));
	const at = (v: Float32Array | null, i: number) => (v ? v[i]! : Number.NaN);
	return stretches(frame, 0, (i) => retard[i]! >= profile.knockEpisodeDeg, CLOSE_S, segments.running).map(
		(run) => {
			let peakAt = run.from;
			for (let i = run.from; i <= run.to; i++) if (retard[i]! > retard[peakAt]! + 1e-6) peakAt = i;
			let cylinder = 0;
			let most = 0;
			for (const c of cylinders) {
				if (c.values[peakAt]! > most) {
					most = c.values[peakAt]!;
					cylinder = c.number;
				}
			}
			return {
				from: run.from,
				to: run.to,
				fromS: t[run.from]!,
				toS: t[run.to]!,
				seconds: runSeconds(run, t, frame.stepS),
				peakDeg: retard[peakAt]!,
				peakAt,
				rises: risesOf(retard, run.from, run.to, peakAt, profile.knockEpisodeDeg),
				loaded: (segments.flags[peakAt]! & FLAG.loaded) !== 0,
				pull: segments.pulls.findIndex((p) => p.from <= peakAt && peakAt <= p.to),
				cylinder,
				rpm: at(rpm, peakAt),
				mapKpa: at(map, peakAt),
				airmassG: at(airmass, peakAt),
				sparkDeg: at(spark, peakAt)
			};
		}
	);
}
