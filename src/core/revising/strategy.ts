/** How proposals are made: what the tuner may set, with defaults that are on the safe side. */
import { z } from 'zod';

export const strategySchema = z.object({
	/** A sample says something about the four cells around it, or only about the nearest. */
	method: z.enum(['bilinear', 'nearest']),
	/** Share of the correction that is applied when fuel is added / removed, 0–1. */
	addShare: z.number().min(0).max(1),
	removeShare: z.number().min(0).max(1),
	/** Most that is removed, and most that is changed at all, in percent of the cell per revision. */
	maxRemovePct: z.number().min(0).max(30),
	maxPct: z.number().min(0).max(50),
	minSamples: z.number().min(1).max(1000),
	minSeconds: z.number().min(0).max(60),
	/** Corrections below this with a standard error above it are left alone, in percent. */
	quietPct: z.number().min(0).max(10),
	/** Cells that were not visited get a share of their neighbours' change. */
	carry: z.boolean(),
	/** The injectors were changed: their data are corrected first, and the fuel table waits. */
	injectors: z.boolean().default(false)
});
export type Strategy = z.infer<typeof strategySchema>;

export const DEFAULT_STRATEGY: Strategy = {
	method: 'bilinear',
	addShare: 1,
	removeShare: 0.7,
	maxRemovePct: 5,
	maxPct: 15,
	minSamples: 10,
	minSeconds: 0.5,
	quietPct: 1,
	carry: true,
	injectors: false
};
