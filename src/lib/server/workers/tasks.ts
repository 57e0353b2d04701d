/** What goes to the workers and what comes back. Faults of the input come back as values: only they are shown to users. */
import type { Proposal } from '../../../core/revising/proposal.ts';

export interface LogTask {
	dataDir: string;
	logId: number;
}

export type LogTaskResult = { ok: true } | { ok: false; message: string };

export interface ProposeTask {
	dataDir: string;
	logIds: number[];
	revisionId: number;
}

export type ProposeTaskResult = { ok: true; proposal: Proposal } | { ok: false; message: string };
