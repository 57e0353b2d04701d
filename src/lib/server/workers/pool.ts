/**
 * The pool of worker threads for whatever takes longer than a few milliseconds. Worker code is bundled beside the built server
 * (`build/server-workers`), in development into the cache of the packages; it is looked for upwards from this file.
 */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Semaphore } from 'async-mutex';
import { Piscina } from 'piscina';
import type * as tasks from '$lib/server/workers/tasks/index.ts';

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

type Tasks = typeof tasks;
export type TaskName = keyof Tasks;
export type TaskInput<N extends TaskName> = Parameters<Tasks[N]>[0];
export type TaskAnswer<N extends TaskName> = Awaited<ReturnType<Tasks[N]>>;

export interface TaskOptions {
	/** Size of the log that is read or screened, by which its time is measured; such tasks are done one at a time. */
	logBytes?: number;
	/** Called when a thread takes it up. */
	onStart?: () => Promise<void>;
}

export interface WorkerPool {
	/**
	 * Runs a task in a thread of its own.
	 * @throws Stopped when the server ends, TookTooLong when it took longer than its size explains
	 */
	run<N extends TaskName>(name: N, input: TaskInput<N>, options?: TaskOptions): Promise<TaskAnswer<N>>;
	/** Takes no more work, gives what is in hand a few seconds, then ends it. Work that didn't end fails with `Stopped`. */
	stop(): Promise<void>;
}

/** The server stops: the work was not done, and nothing is wrong with it. */
export class Stopped extends Error {
	constructor() {
		super('the server stops');
	}
}

/** The work was ended because it took longer than its size explains. */
export class TookTooLong extends Error {
	constructor() {
		super('the work took too long and was ended');
	}
}

/** What any work may take, and what a log may take more for its size: ten times what a slow machine needs. Waiting for a thread doesn't count. */
const TIME_LIMIT_MS = 2 * 60_000;
const MS_PER_MB = 600;
/** What is in hand when the server stops gets this long. */
const FINISH_MS = 5000;

/** Two threads suit the two cores of a small server. */
const THREADS = 2;
/** Of them one is kept from logs when several wait: one log being read does not hold up a proposal. */
const FOR_LOGS = 1;

export function createPool(): WorkerPool {
	const piscina = new Piscina({
		filename: findWorker('log.worker.mjs'),
		minThreads: 1,
		maxThreads: THREADS,
		idleTimeout: 60_000,
		resourceLimits: { maxOldGenerationSizeMb: 2048 }
	});
	let stopping = false;
	const inHand = new Set<Promise<unknown>>();
	const threads = new Semaphore(THREADS);
	const logs = new Semaphore(FOR_LOGS);
	const inThread = async <N extends TaskName>(
		name: N,
		input: TaskInput<N>,
		limitMs: number,
		onStart?: () => Promise<void>
	): Promise<TaskAnswer<N>> => {
		if (stopping) throw new Stopped();
		await onStart?.();
		const work = piscina.run(input, { name, signal: AbortSignal.timeout(Math.ceil(limitMs)) }) as Promise<
			TaskAnswer<N>
		>;
		inHand.add(work);
		try {
			return await work;
		} catch (e) {
			if (stopping) throw new Stopped();
			throw e instanceof Error && /Abort|Timeout/.test(e.name) ? new TookTooLong() : e;
		} finally {
			inHand.delete(work);
		}
	};
	return {
		run(name, input, { logBytes, onStart } = {}) {
			const limitMs = TIME_LIMIT_MS + ((logBytes ?? 0) / (1 << 20)) * MS_PER_MB;
			// The turn is waited for here, not inside the pool: only work counts as working time.
			const work = () => threads.runExclusive(() => inThread(name, input, limitMs, onStart));
			return logBytes === undefined ? work() : logs.runExclusive(work);
		},
		async stop() {
			stopping = true;
			await Promise.race([Promise.allSettled(inHand), new Promise((r) => setTimeout(r, FINISH_MS).unref())]);
			await piscina.destroy();
		}
	};
}
