/** Figures of the rule by which a swap test is answered: our own choice, in natural logarithms (0.04 is 4 %). */

/** Smaller differences aren't followed: as large as a limit of the banks, and as what a day does. */
export const FLOOR = 0.04;
/** Where a channel that stayed, or a log with everything back, takes out what a day does. */
export const FLOOR_WITHOUT_DAY = 0.02;
/** A day's repeatability of one log. */
export const DAY_SE = 0.007;
/** Standard errors that a difference has to be apart from nothing to be followed. */
export const LEAST_SE = 4;
/** An answer fits within so many standard errors; another one is ruled out beyond so many. */
export const WITHIN_SE = 2;
export const SURE_SE = 3;
