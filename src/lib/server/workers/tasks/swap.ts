/** What a difference moved with, by the logs before and after a swap. */
import type { Swap } from '$core/swaps/document.ts';
import { judgeSwap } from '$core/swaps/judge.ts';
import { contextOf } from '$lib/server/logs/log-context.ts';
import { loadLog } from '$lib/server/logs/log-store.ts';
import { task, type Place } from './task.ts';

export interface SwapTask extends Place {
	swap: Swap;
	before: number;
	after: number;
	/** Log with everything back as it was. */
	back: number | null;
}

export const swap = task(async ({ swap: document, before, after, back }: SwapTask, db) => {
	const of = async (id: number) => ({ log: await loadLog(db, id), context: await contextOf(db, id) });
	return {
		answer: judgeSwap(document, await of(before), await of(after), back === null ? undefined : await of(back))
	};
});
