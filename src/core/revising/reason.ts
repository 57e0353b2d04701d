/** Fewest characters of a reason that says something. */
export const REASON_LENGTH = 10;
