/** What is read on a plug, by name. */

/** How much of the plating of the base ring is burnt away: the mixture's mark. */
export const PLATINGS = ['none', 'quarter', 'half', 'most', 'all'] as const;
/** How far the heat mark on the ground strap reaches: the timing's mark. */
export const HEAT_MARKS = ['short', 'at-bend', 'past-bend', 'whole-strap'] as const;
export const PLUG_FLAGS = ['melted-strap', 'specks', 'porcelain', 'wet', 'sooty'] as const;
