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
	FieldsTaskResult,
	LogTask,
	LogTaskResult,
	ProofTask,
	ProofTaskResult,
	FuelTask,
	FuelTaskResult,
	LadderTask,
	LadderTaskResult,
	PlugTask,
	PlugTaskResult,
	SwapTask,
	SwapTaskResult,
	ProposeTask,
	ProposeTaskResult,
	ReplayTask,
	ReplayTaskResult,
	RequirementTaskResult,
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
	/**
	 * @param bytes size of the log, by which its time is measured
	 * @param onStart told when a thread takes it up
	 */
	processLog(task: LogTask, bytes: number, onStart?: () => Promise<void>): Promise<LogTaskResult>;
	/** Screens a log anew from its stored columns. */
	screenAgain(task: LogTask, bytes: number): Promise<LogTaskResult>;
	propose(task: ProposeTask): Promise<ProposeTaskResult>;
	/** What the engine wants of the table of a revision, by the logs given. */
	requirement(task: ProposeTask): Promise<RequirementTaskResult>;
	fields(task: LogTask): Promise<FieldsTaskResult>;
	exportLog(task: ExportTask): Promise<ExportTaskResult>;
	replay(task: ReplayTask): Promise<ReplayTaskResult>;
	summary(task: LogTask): Promise<SummaryTaskResult>;
	measureBaselines(task: LogTask): Promise<BaselinesTaskResult>;
	measureProof(task: ProofTask): Promise<ProofTaskResult>;
	/** What a difference moved with. */
	judgeSwap(task: SwapTask): Promise<SwapTaskResult>;
	/** The next rung towards the goal. */
	ladder(task: LadderTask): Promise<LadderTaskResult>;
	/** How far injectors and pump go, by a log. */
	planFuel(task: FuelTask): Promise<FuelTaskResult>;
	/** Trims by cylinder from plugs. */
	judgePlugs(task: PlugTask): Promise<PlugTaskResult>;
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
	const all = new Gate(THREADS);
	const logs = new Gate(FOR_LOGS);
	const run = async <T>(
		name: string,
		task: unknown,
		limitMs = TIME_LIMIT_MS,
		onStart?: () => Promise<void>
	): Promise<T> => {
		// The turn is waited for here, not inside the pool: only work counts as working time.
		const leave = await all.enter();
		try {
			if (stopping) throw new Stopped();
			await onStart?.();
			const work = piscina.run(task, { name, signal: AbortSignal.timeout(Math.ceil(limitMs)) }) as Promise<T>;
			inHand.add(work);
			try {
				return await work;
			} catch (e) {
				if (stopping) throw new Stopped();
				throw e instanceof Error && /Abort|Timeout/.test(e.name) ? new TookTooLong() : e;
			} finally {
				inHand.delete(work);
			}
		} finally {
			leave();
		}
	};
	/** One log at a time, measured by its size. */
	const ofLog = async (name: string, task: LogTask, bytes: number, onStart?: () => Promise<void>) => {
		const leave = await logs.enter();
		try {
			return await run<LogTaskResult>(name, task, TIME_LIMIT_MS + (bytes / (1 << 20)) * MS_PER_MB, onStart);
		} finally {
			leave();
		}
	};
	return {
		processLog: (task, bytes, onStart) => ofLog('processLog', task, bytes, onStart),
		screenAgain: (task, bytes) => ofLog('screenAgain', task, bytes),
		propose: (task) => run<ProposeTaskResult>('propose', task),
		requirement: (task) => run<RequirementTaskResult>('requirement', task),
		fields: (task) => run<FieldsTaskResult>('fields', task),
		exportLog: (task) => run<ExportTaskResult>('exportLog', task),
		replay: (task) => run<ReplayTaskResult>('replay', task),
		summary: (task) => run<SummaryTaskResult>('summary', task),
		measureBaselines: (task) => run<BaselinesTaskResult>('measureBaselines', task),
		measureProof: (task) => run<ProofTaskResult>('measureProof', task),
		judgeSwap: (task) => run<SwapTaskResult>('judgeSwap', task),
		ladder: (task) => run<LadderTaskResult>('ladder', task),
		planFuel: (task) => run<FuelTaskResult>('planFuel', task),
		judgePlugs: (task) => run<PlugTaskResult>('judgePlugs', task),
		async stop() {
			stopping = true;
			await Promise.race([Promise.allSettled(inHand), new Promise((r) => setTimeout(r, FINISH_MS).unref())]);
			await piscina.destroy();
		}
	};
}

/** Lets so many through at a time, in order. */
class Gate {
	private readonly waiting: (() => void)[] = [];
	constructor(private free: number) {}

	/** @returns what lets the next one in */
	async enter(): Promise<() => void> {
		if (this.free > 0) this.free--;
		else await new Promise<void>((r) => this.waiting.push(r));
		return () => {
			const next = this.waiting.shift();
			if (next) next();
			else this.free++;
		};
	}
}
