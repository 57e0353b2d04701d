/** The ladder of a job: the rung that comes next from the revision that should be in the car, its newest logs and the goal. */
import { InputError } from '$core/input-error.ts';
import type { LadderAnswer } from '$core/climbing/ladder.ts';
import { climbs } from '$core/climbing/step.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import { hardwareOf } from '$lib/server/jobs/hardware.ts';
import { goalOf } from '$lib/server/jobs/goals.ts';
import { logsOf, type LogLine } from '$lib/server/logs/logs.ts';
import { plugsOf } from '$lib/server/jobs/plug-readings.ts';
import { standingFor, swapsOf } from '$lib/server/jobs/swap-tests.ts';
import {
	currentRevision,
	layBeside,
	revisionsOf,
	type RevisionLine
} from '$lib/server/revisions/revisions.ts';
import { briefsOf } from '$lib/server/logs/screenings.ts';

/** Logs that a rung is judged by, at most: the newest of the revision. */
const MOST_LOGS = 4;

export interface JobLadder {
	answer: LadderAnswer;
	revision: { id: number; number: number };
	/** The newest last. */
	logs: { id: number; title: string }[];
	/** Numbers of the revisions of `answer.steps`. */
	numbers: number[];
	goal: { boostKpa: number | null; timingCeilingDeg: number | null };
}

/** Logs of each earlier rung that are read again, and how many rungs back: further back those that knocked, else the newest alone. */
const LOGS_A_RUNG = 2;
const RUNGS_BACK = 3;

/** The rungs before this one, the oldest first: revisions that were driven since the hardware was last changed. */
async function earlierRungs(db: Db, jobId: number, current: RevisionLine, logs: readonly LogLine[]) {
	const [change] = await hardwareOf(db, jobId);
	const since = logs.filter((l) => l.revisionId !== current.id && (!change || l.receivedAt > change.at));
	const briefs = await briefsOf(
		db,
		since.map((l) => l.id)
	);
	const knocked = (l: LogLine) => briefs.get(l.id)?.findings.some((f) => f.code.includes('knock')) ?? false;
	const told = (list: readonly LogLine[]) =>
		list.some(knocked) ? list.filter(knocked).slice(-LOGS_A_RUNG) : list.slice(-1);
	const driven = (await revisionsOf(db, jobId))
		.filter((r) => since.some((l) => l.revisionId === r.id))
		.map((r) => ({
			revisionId: r.id,
			number: r.number,
			logs: since.filter((l) => l.revisionId === r.id)
		}));
	return driven
		.map((r, n) => {
			const all = n >= driven.length - RUNGS_BACK;
			return {
				revisionId: r.revisionId,
				number: r.number,
				logIds: (all ? r.logs.slice(-LOGS_A_RUNG) : told(r.logs)).map((l) => l.id)
			};
		})
		.filter((r) => r.logIds.length > 0);
}

/** @throws InputError where a fact is missing */
export async function ladderOfJob(
	app: Pick<App, 'db' | 'dataDir' | 'pool'>,
	jobId: number
): Promise<JobLadder> {
	const current = await currentRevision(app.db, jobId);
	const { id, number } = current;
	const driven = (await logsOf(app.db, jobId)).filter(
		(l) => l.state === 'screened' && l.takenOut === null && l.kind === 'drive'
	);
	const logs = driven.filter((l) => l.revisionId === id).slice(-MOST_LOGS);
	const plugs = (await plugsOf(app.db, jobId)).find((p) => p.revisionId === id);
	const earlier = await earlierRungs(app.db, jobId, current, driven);
	const goal = await goalOf(app.db, jobId);
	const answer = await app.pool.run('ladder', {
		dataDir: app.dataDir,
		logIds: logs.map((l) => l.id),
		revisionId: id,
		earlier,
		goal,
		plugs: plugs?.plugs ?? null,
		banksSeen: standingFor(await swapsOf(app.db, jobId), 'bank.unseen')?.seen ?? null
	});
	if (!answer.ok) throw new InputError(answer.message);
	return {
		answer: answer.answer,
		revision: { id, number },
		logs: logs.map(({ id: log, title }) => ({ id: log, title })),
		numbers: [...earlier.map((r) => r.number), number],
		goal: {
			boostKpa: goal.boostKpa ? Math.max(...goal.boostKpa.map(([, kpa]) => kpa)) : null,
			timingCeilingDeg: goal.timingCeilingDeg ?? null
		}
	};
}

/** Shortest reason that says something. */
const LEAST_WORDS = 8;

/**
 * The rung, or the shifts or the throttle beside it, as proposals of a draft: nothing of it is accepted.
 * @param reason why it is climbed, in the words of whoever decides it: it stands with each change
 * @returns id of the draft
 * @throws InputError where a gate is closed, or there is nothing to climb
 */
export async function proposeRung(
	app: Pick<App, 'db' | 'dataDir' | 'pool'>,
	jobId: number,
	what: 'rung' | 'shifts' | 'throttle',
	reason: string
): Promise<number> {
	const { answer, revision: at, logs } = await ladderOfJob(app, jobId);
	const { changes } = what === 'rung' ? answer : answer[what];
	if (changes.length === 0)
		throw new InputError(
			what === 'rung'
				? 'no step is ready: a gate is closed, or the goal is reached'
				: 'nothing of it is to be changed'
		);
	const said = reason.trim();
	if (said.length > 300) throw new InputError('the reason is longer than 300 characters', 'Why');
	if (said.length < LEAST_WORDS && (what !== 'rung' || climbs(answer.rung)))
		throw new InputError('a step up is a decision: say in a few words why it is taken now', 'Why');
	const proposal = {
		changes: changes.map((c) => (said ? { ...c, reason: `${said} (${c.reason})` } : c)),
		held: []
	};
	const ids = logs.map((l) => l.id);
	return layBeside(app.db, jobId, at.id, proposal, ids);
}
