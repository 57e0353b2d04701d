/** The second opinion: an independent monitor beside the controller's own sensors. */
import type { Frame } from '../../logfile/frame.ts';
import type { Episode } from './episodes.ts';

/** The two don't answer in the same instant. */
const REACH_S = 0.15;

/** Share of the time of these episodes (0–1) in which the monitor was above `level`, with 0.15 s of reach either way. */
export function monitorShare(
	episodes: readonly Episode[],
	monitor: Float32Array,
	frame: Frame,
	level: number
): number {
	let inside = 0;
	let active = 0;
	for (const e of episodes) {
		for (let i = e.from; i <= e.to; i++) {
			inside += frame.dtS[i]!;
			const from = frame.timeS[i]! - REACH_S;
			const to = frame.timeS[i]! + REACH_S;
			for (let k = Math.max(0, frame.indexAt(from)); k < frame.length && frame.timeS[k]! <= to; k++)
				if (frame.timeS[k]! >= from && monitor[k]! > level) {
					active += frame.dtS[i]!;
					break;
				}
		}
	}
	return inside > 0 ? active / inside : 0;
}
