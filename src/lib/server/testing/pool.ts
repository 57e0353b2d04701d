/** A pool whose tasks a test answers itself; one that it names no answer for isn't asked. */
import type { TaskName, TaskOptions, WorkerPool } from '$lib/server/workers/pool.ts';

export type Answers = Partial<Record<TaskName, (input: never, options?: TaskOptions) => Promise<unknown>>>;

export function poolOf(answers: Answers): WorkerPool {
	const run = async (name: TaskName, input: unknown, options?: TaskOptions) => {
		const answer = answers[name];
		if (!answer) throw new Error(`the test has no answer for the task "${name}"`);
		return answer(input as never, options);
	};
	return { run: run as WorkerPool['run'], stop: () => Promise.resolve() };
}
