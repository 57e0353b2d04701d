/** What a swap test answers, and what it answers from. */
import type { Band } from '../evidence/cells/banks.ts';
import type { Pooled } from './pooled.ts';

export type Answer = 'moved' | 'stayed' | 'gone' | 'two-parts' | 'undecided' | 'not-comparable';

/** 100 × (bank 2 / bank 1 − 1), or second cylinder against first; its standard error with a day's repeatability in it. */
export interface Difference {
	pct: number;
	se: number;
}

export interface SwapAnswer {
	answer: Answer;
	before: Difference | null;
	after: Difference | null;
	/** Of two parts: what went with what was swapped, and what stayed at its place; `null` else. */
	partPct: number | null;
	placePct: number | null;
	/** Cells that were visited before and after, in the band of load that decided. */
	cells: number;
	band: Band | null;
	/** Pulse of bank 2 against bank 1, percent, where both are logged: the controller treats the banks alike, the hardware doesn't. */
	pulsePct: number | null;
	why: string;
	/** Cheapest first. */
	next: string[];
}

export interface InBand {
	band: Band;
	places: number;
	/** Standard errors without a day's repeatability. */
	before: Pooled;
	after: Pooled;
	back: Pooled | null;
}

export type Judged = Pick<SwapAnswer, 'answer' | 'partPct' | 'placePct'>;
