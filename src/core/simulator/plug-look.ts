/** How the plugs of the stand-in look after a pass: what a tuner reads, from what is hidden. */
import type { PlugReading } from '../plugs/document.ts';

/** The hidden truth of a cylinder. */
export interface CylinderTruth {
	cylinder: number;
	/** Fuel that it lacks, points; negative has too much. */
	leanPct: number;
	/** Timing that it has over what it likes, degrees. */
	overDeg: number;
}

/** A lean hole gets hotter: its heat mark goes further than its timing alone would make it. */
const DEG_PER_LEAN_PCT = 0.4;

export function plugLook({ cylinder, leanPct, overDeg }: CylinderTruth): PlugReading {
	const heat = overDeg + Math.max(0, leanPct) * DEG_PER_LEAN_PCT;
	return {
		cylinder,
		plating:
			leanPct < 0.5
				? 'none'
				: leanPct < 1
					? 'quarter'
					: leanPct < 1.5
						? 'half'
						: leanPct < 2.5
							? 'most'
							: 'all',
		mark: heat < -0.75 ? 'short' : heat < 0.5 ? 'at-bend' : heat < 3 ? 'past-bend' : 'whole-strap',
		...(leanPct < -6 ? { flags: ['sooty'] } : heat > 6 ? { flags: ['specks'] } : {})
	};
}
