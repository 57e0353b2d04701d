/**
 * The pool of worker threads for whatever takes longer than a few milliseconds. Worker code is bundled beside the built server
 * (`build/server-workers`), in development into the cache of the packages; it is looked for upwards from this file.
 */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type {
	BaselinesTaskResult,
	ExportTask,
	ExportTaskResult,
	LogTask,
	LogTaskResult,
	ProofTask,
	ProofTaskResult,
	ProposeTask,
	ProposeTaskResult,
	ReplayTask,
	ReplayTaskResult,
	SummaryTaskResult
} from './tasks.ts';

const PLACES = ['server-workers', 'node_modules/.cache/tanto/server-workers', 'build/server-workers'];

function findWorker(name: string): string {
	let folder = dirname(fileURLToPath(import.meta.url));
	for (;;) {
		for (const place of PLACES) {
			const file = join(folder, place, name);
			if (existsSync(file)) return file;
		}
		const up = dirname(folder);
		if (up === folder) throw new Error(`the bundled worker ${name} is missing; run "npm run build"`);
		folder = up;
	}
}

export interface WorkerPool {
	processLog(task: LogTask): Promise<LogTaskResult>;
	propose(task: ProposeTask): Promise<ProposeTaskResult>;
	exportLog(task: ExportTask): Promise<ExportTaskResult>;
	replay(task: ReplayTask): Promise<ReplayTaskResult>;
	summary(task: LogTask): Promise<SummaryTaskResult>;
	measureBaselines(task: LogTask): Promise<BaselinesTaskResult>;
	measureProof(task: ProofTask): Promise<ProofTaskResult>;
	destroy(): Promise<void>;
}

/** A log that takes longer than this isn't one; the thread is ended. Two hours of sixty channels take a few seconds. */
const TIME_LIMIT_MS = 10 * 60_000;

/** Two threads suit the two cores of a small server: one log being read does not hold up a proposal. One stays, compiled code warm. */
const THREADS = 2;

export function createPool(): WorkerPool {
	const piscina = new Piscina({
		filename: findWorker('log.worker.mjs'),
		minThreads: 1,
		maxThreads: THREADS,
		idleTimeout: 60_000,
		resourceLimits: { maxOldGenerationSizeMb: 2048 }
	});
	const run = async <T>(name: string, task: unknown): Promise<T> =>
		(await piscina.run(task, { name, signal: AbortSignal.timeout(TIME_LIMIT_MS) })) as T;
	return {
		processLog: (task) => run<LogTaskResult>('processLog', task),
		propose: (task) => run<ProposeTaskResult>('propose', task),
		exportLog: (task) => run<ExportTaskResult>('exportLog', task),
		replay: (task) => run<ReplayTaskResult>('replay', task),
		summary: (task) => run<SummaryTaskResult>('summary', task),
		measureBaselines: (task) => run<BaselinesTaskResult>('measureBaselines', task),
		measureProof: (task) => run<ProofTaskResult>('measureProof', task),
		destroy: () => piscina.destroy()
	};
}
