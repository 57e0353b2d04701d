/**
 * What a plug asks for. Common practice: the plating that is gone says how lean, the heat mark how far the timing is on, and lean comes
 * before timing, because a lean hole moves its own heat mark.
 */
import type { PlugReading } from './document.ts';

/** Points of fuel for plating that is partly, or mostly, gone. */
export const LIGHT_POINTS = 1;
export const HEAVY_POINTS = 2;
/** Timing for a heat mark beyond the bend of the strap; and what a short one could take, which is left alone. */
export const PAST_BEND_DEG = -1;
export const SHORT_DEG = 0.5;
/** Passes after which a plated plug still tells of this session: afterwards all of it is gone anyway. */
export const MOST_PASSES = 4;
/** Two kinds of evidence that are further apart than this on a cylinder contradict each other, in points of fuel. */
export const APART_POINTS = 2;
/** A trim isn't brought beyond this over the median of the set: the injectors are the matter then. */
export const MOST_OVER_MEDIAN = 5;

const FUEL: Record<NonNullable<PlugReading['plating']>, number> = {
	none: 0,
	quarter: LIGHT_POINTS,
	half: LIGHT_POINTS,
	most: HEAVY_POINTS,
	all: HEAVY_POINTS
};

/** Points of fuel that a plug asks for; `null` where its plating wasn't read. Never less: leaner gains nothing. */
export const fuelOf = (r: PlugReading): number | null => (r.plating ? FUEL[r.plating] : null);

/** Something is burnt or broken in there. */
export const DAMAGE = ['melted-strap', 'specks', 'porcelain'] as const;
export const damageOf = (r: PlugReading) => DAMAGE.filter((d) => r.flags?.includes(d));
/** Fuel that didn't burn, or too much of it. */
export const foulOf = (r: PlugReading) => (['wet', 'sooty'] as const).filter((d) => r.flags?.includes(d));
