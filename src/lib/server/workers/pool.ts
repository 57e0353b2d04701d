/**
 * The pool of worker threads for whatever takes longer than a few milliseconds. Worker code is bundled beside the built server
 * (`build/server-workers`), in development into the cache of the packages; it is looked for upwards from this file.
 */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { LogTask, LogTaskResult, ProposeTask, ProposeTaskResult } from './tasks.ts';

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
	destroy(): Promise<void>;
}

/** Two threads suit the two cores of a small server: one log being read doesn't hold up a proposal. */
const THREADS = 2;

export function createPool(): WorkerPool {
	const piscina = new Piscina({
		filename: findWorker('log.worker.mjs'),
		minThreads: 0,
		maxThreads: THREADS,
		idleTimeout: 60_000,
		resourceLimits: { maxOldGenerationSizeMb: 2048 }
	});
	return {
		processLog: (task) => piscina.run(task, { name: 'processLog' }) as Promise<LogTaskResult>,
		propose: (task) => piscina.run(task, { name: 'propose' }) as Promise<ProposeTaskResult>,
		destroy: () => piscina.destroy()
	};
}
