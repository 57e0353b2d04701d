/** How proposals are made: what the tuner may set, with defaults that are on the safe side. */
import { z } from 'zod';

export const strategySchema = z.object({
	/** A sample says something about the four cells around it, or only about the nearest. */
	method: z.enum(['bilinear', 'nearest']),
	/** Share of the correction that is applied when fuel is added / removed, 0–1. */
	addShare: z.number().min(0).max(1),
	removeShare: z.number().min(0).max(1),
	/** Most that is removed, and where two independent witnesses agree, in percent of the cell per revision. */
	maxRemovePct: z.number().min(0).max(30),
	maxRemoveAgreedPct: z.number().min(0).max(30).default(10),
	/** Most that is changed at all, in percent of the cell per revision. */
	maxPct: z.number().min(0).max(50),
	minSamples: z.number().min(1).max(1000),
	minSeconds: z.number().min(0).max(60),
	/** A cell counts as measured up to this standard deviation of what it wants, in percent. */
	mostSdPct: z.number().min(0.1).max(10).default(2),
	/** Changes below this are left alone, in percent. */
	quietPct: z.number().min(0).max(10),
	/** Cells that were not visited get what the field says of them, as far as it is certain. */
	carry: z.boolean(),
	/** Additions that a person should be asked about (no misfires are counted) are left out. */
	cautious: z.boolean().default(false),
	/** The injectors were changed: their data are corrected first, and the fuel table waits. */
	injectors: z.boolean().default(false)
});
export type Strategy = z.infer<typeof strategySchema>;

export const DEFAULT_STRATEGY: Strategy = {
	method: 'bilinear',
	addShare: 1,
	removeShare: 1,
	maxRemovePct: 5,
	maxRemoveAgreedPct: 10,
	maxPct: 15,
	minSamples: 10,
	minSeconds: 0.5,
	mostSdPct: 2,
	quietPct: 0.3,
	carry: true,
	cautious: false,
	injectors: false
};

/** Share of a correction that takes fuel out, for what has no uncertainty of its own (injector data, trims of cylinders). */
export const TAKE_OUT_SHARE = 0.7;
