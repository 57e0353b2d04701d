/** What still stands open in a job. */
import { plain } from '$core/format.ts';
import { answersFor } from '$lib/server/logs/finding-answers.ts';
import type { Db } from '$lib/server/db/open.ts';
import { isInTheCar } from '$lib/server/revisions/installed-revision.ts';
import { newestLog, unreadLogs } from './newest-log.ts';
import { currentRevision, revision, revisionsOf } from '$lib/server/revisions/revisions.ts';
import { briefsOf } from '$lib/server/logs/screenings.ts';

export interface StillOpen {
	text: string;
	/** Nothing may be driven hard while it stands. */
	stop: boolean;
}

/** What the newest log that counts found, and nobody answered yet. */
async function unanswered(db: Db, jobId: number, log: Awaited<ReturnType<typeof newestLog>>) {
	if (!log) return [];
	const findings = (await briefsOf(db, [log.id])).get(log.id)?.findings ?? [];
	const { covering } = await answersFor(db, jobId, log, findings);
	return findings.filter((f) => !covering[f.key]);
}

/** The finding at stop that a job waits for; null where none is open. Its title has its quantities marked. */
export async function openStopIn(db: Db, jobId: number): Promise<string | null> {
	const open = await unanswered(db, jobId, await newestLog(db, jobId));
	return open.find((f) => f.severity === 'stop')?.title ?? null;
}

/** What still stands open in a job; empty where it may simply be called done. */
export async function openIn(db: Db, jobId: number): Promise<StillOpen[]> {
	const out: StillOpen[] = [];
	const add = (text: string, stop = false) => out.push({ text, stop });
	const log = await newestLog(db, jobId);
	for (const f of await unanswered(db, jobId, log))
		if (f.severity === 'stop' || f.severity === 'fix')
			add(`${f.severity === 'stop' ? 'Open at stop' : 'To fix'}: ${plain(f.title)}`, f.severity === 'stop');
	if (!log) add('No log of it was ever judged');
	for (const l of await unreadLogs(db, jobId))
		add(l.failed ? `A log can’t be read: ${l.name}` : `A log is being read: ${l.name}`);
	const draft = (await revisionsOf(db, jobId)).find((r) => r.state === 'draft');
	if (draft) add(`R${draft.number} is still a draft`);
	const current = (await revision(db, (await currentRevision(db, jobId)).id))!;
	if (current.state === 'released') {
		// A log that was made with it says that it is in the car.
		const logged = (await newestLog(db, jobId, current.id)) !== null;
		if (!logged && !(await isInTheCar(db, current)))
			add(`R${current.number} was sent, and nobody said that it is in the car`);
		if (!logged) add(`No log was made with R${current.number}`);
	}
	return out;
}
