/**
 * Unloaded driving as a control: at light load an engine can't knock. Where short episodes come there as often as under load at the same engine
 * speeds, they go with the speed and not with the load. That makes noise likelier, and proves nothing.
 */
import type { Frame } from '../../logfile/frame.ts';
import { fixed } from '../../format.ts';
import { FLAG } from '../segments/kinds.ts';
import type { Segments } from '../segments/segments.ts';
import { BLIP_S, type JudgedEpisode } from './shape.ts';

/** Unloaded is this far below the barometer, kPa. */
const LIGHT_KPA = 40;
const LEAST_S = 60;
const LEAST_BLIPS = 10;
/** The rate under load may certainly be no more than this many times that of the control. */
const MOST_RATIO = 1.5;
/** One-sided 95 % of the normal distribution. */
const BOUND = 1.645;
/** Engine speeds of the loaded blips, widened by this on either side. */
const AROUND_RPM = 250;

/**
 * Upper 95 % bound of the ratio of two Poisson rates, by the normal distribution of its logarithm (Rothman, Modern Epidemiology: variance
 * 1/a + 1/b).
 */
export function mostRatio(a: number, aSeconds: number, b: number, bSeconds: number): number {
	if (a === 0 || b === 0) return a === 0 ? 0 : Infinity;
	return (a / aSeconds / (b / bSeconds)) * Math.exp(BOUND * Math.sqrt(1 / a + 1 / b));
}

/** The episodes of a log; blips that come as often without load carry what says so. */
export function withControl(
	judged: readonly JudgedEpisode[],
	frame: Frame,
	segments: Segments
): readonly JudgedEpisode[] {
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	const blips = judged.filter((e) => e.shape !== 'real' && e.seconds < BLIP_S && Number.isFinite(e.rpm));
	const loaded = blips.filter((e) => e.loaded);
	if (!rpm || !map || loaded.length === 0) return judged;
	const low = Math.min(...loaded.map((e) => e.rpm)) - AROUND_RPM;
	const high = Math.max(...loaded.map((e) => e.rpm)) + AROUND_RPM;
	const light = segments.baroKpa - LIGHT_KPA;
	let [loadedS, lightS] = [0, 0];
	for (let i = 0; i < frame.length; i++) {
		if (!(rpm[i]! >= low && rpm[i]! <= high)) continue;
		if (segments.flags[i]! & FLAG.loaded) loadedS += frame.dtS[i]!;
		else if (map[i]! < light) lightS += frame.dtS[i]!;
	}
	const control = blips.filter((e) => e.mapKpa < light && e.rpm >= low && e.rpm <= high).length;
	if (lightS < LEAST_S || control < LEAST_BLIPS || loadedS <= 0) return judged;
	if (mostRatio(loaded.length, loadedS, control, lightS) >= MOST_RATIO) return judged;
	const words = `at light load, where an engine can't knock, it comes as often at these speeds (${fixed((60 * control) / lightS, 1)} a minute, ${fixed((60 * loaded.length) / loadedS, 1)} under load)`;
	const mine = new Set<JudgedEpisode>([...loaded, ...blips.filter((e) => e.rpm >= low && e.rpm <= high)]);
	return judged.map((e) => (mine.has(e) ? { ...e, control: words } : e));
}
