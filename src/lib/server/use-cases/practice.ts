/** Practice: a job whose customer is the stand-in. The trainee's own word on a log comes before Tanto's, and the engine's truth at the end. */
import { InputError } from '$core/input-error.ts';
import { CURES, type CureId } from '$core/practice/cures.ts';
import { gradeOf, type Claim, type Grade, type Verdict } from '$core/practice/grade.ts';
import type { Hand } from '$core/practice/hand.ts';
import { levelOf, sceneOf } from '$core/practice/levels.ts';
import { subjectsIn, type SubjectId } from '$core/practice/subjects.ts';
import { bankCount } from '$core/vehicle/facts.ts';
import type { Standing } from '$core/practice/car.ts';
import type { HurtPlace } from '$core/simulator/truth-under-load.ts';
import type { Db } from '$lib/server/db/open.ts';
import { receive, textBody } from '$lib/server/storage/files.ts';
import { createJob } from '$lib/server/jobs/jobs.ts';
import { logLine, screeningOf } from '$lib/server/logs/logs.ts';
import { currentRevision, revision } from '$lib/server/revisions/revisions.ts';
import type { Driven } from '$lib/server/workers/tasks/practice.ts';
import { addLog } from './receive.ts';
import type { Reader } from './screen.ts';

export interface Round {
	logId: number;
	/** What the car was driven with. */
	revision: number;
	cures: CureId[];
	/** What the step before this log did to the engine, the worst place first. */
	harm: HurtPlace[];
	own: { verdict: Verdict; claims: Claim[] } | null;
	grade: Grade | null;
}

export interface PracticeState {
	cures: CureId[];
	rounds: Round[];
	end: { standing: Standing; harm: HurtPlace[]; hand: Hand } | null;
}

export interface PracticeSession {
	id: number;
	jobId: number;
	level: number;
	seed: number;
	state: PracticeState;
	createdAt: string;
	endedAt: string | null;
}

type Row = {
	id: number;
	job_id: number;
	level: number;
	seed: number;
	state: string;
	created_at: string;
	ended_at: string | null;
};
const sessionFrom = (r: Row): PracticeSession => ({
	id: r.id,
	jobId: r.job_id,
	level: r.level,
	seed: r.seed,
	state: JSON.parse(r.state) as PracticeState,
	createdAt: r.created_at,
	endedAt: r.ended_at
});

/** Of an account, the newest first. */
export async function sessionsOf(db: Db, account: string): Promise<PracticeSession[]> {
	const rows = await db
		.selectFrom('practice_sessions')
		.selectAll()
		.where('account', '=', account)
		.orderBy('id', 'desc')
		.execute();
	return rows.map(sessionFrom);
}

export async function sessionById(db: Db, id: number): Promise<PracticeSession | null> {
	const row = await db.selectFrom('practice_sessions').selectAll().where('id', '=', id).executeTakeFirst();
	return row ? sessionFrom(row) : null;
}

export async function sessionOfJob(db: Db, jobId: number): Promise<PracticeSession | null> {
	const row = await db
		.selectFrom('practice_sessions')
		.selectAll()
		.where('job_id', '=', jobId)
		.executeTakeFirst();
	return row ? sessionFrom(row) : null;
}

/** The log that the trainee hasn't judged yet; the job stays shut until then. */
export const unjudged = (s: PracticeSession): Round | null =>
	s.state.rounds.find((r) => r.own === null) ?? null;

/** Writes what came of a step, where nothing else was written since the session was read. @throws InputError else */
async function keep(
	db: Db,
	s: PracticeSession,
	state: PracticeState,
	endedAt: string | null = null
): Promise<void> {
	const { numUpdatedRows } = await db
		.updateTable('practice_sessions')
		.set({ state: JSON.stringify(state), ...(endedAt ? { ended_at: endedAt } : {}) })
		.where('id', '=', s.id)
		.where('state', '=', JSON.stringify(s.state))
		.where('ended_at', 'is', null)
		.executeTakeFirst();
	if (numUpdatedRows !== 1n) throw new InputError('it was gone on with elsewhere: load the page again');
}

/** @throws InputError for a level that there isn't, or a seed that is none */
export async function startPractice(
	db: Db,
	level: number,
	seed: number,
	account: { id: string; name: string },
	now = new Date()
): Promise<number> {
	const found = levelOf(level);
	if (!found) throw new InputError('there is no such level');
	if (!Number.isInteger(seed) || seed < 1 || seed > 9999)
		throw new InputError('a seed is a whole number from 1 to 9999', 'seed');
	const scene = sceneOf(found, seed);
	const jobId = await createJob(
		db,
		{
			customer: 'The stand-in',
			email: null,
			title: `Practice ${level}: ${found.title}`,
			vehicle: scene.vehicle,
			calibration: scene.base,
			practice: true
		},
		now,
		account
	);
	const state: PracticeState = { cures: [], rounds: [], end: null };
	const row = await db
		.insertInto('practice_sessions')
		.values({
			job_id: jobId,
			level,
			seed,
			account: account.id,
			state: JSON.stringify(state),
			created_at: now.toISOString(),
			ended_at: null
		})
		.executeTakeFirstOrThrow();
	return Number(row.insertId);
}

/** The car as it would be driven now. */
async function drivenNow(db: Db, s: PracticeSession): Promise<{ driven: Driven; number: number }> {
	const line = await currentRevision(db, s.jobId);
	const calibration = line.number === 0 ? null : (await revision(db, line.id))!.calibration;
	return { driven: { cures: s.state.cures, calibration }, number: line.number };
}

/** As it was driven for its last log; `null` before the first. */
async function drivenBefore(db: Db, s: PracticeSession): Promise<Driven | null> {
	const last = s.state.rounds.at(-1);
	if (!last) return null;
	const row = await db
		.selectFrom('revisions')
		.select('id')
		.where('job_id', '=', s.jobId)
		.where('number', '=', last.revision)
		.executeTakeFirstOrThrow();
	const calibration = last.revision === 0 ? null : (await revision(db, row.id))!.calibration;
	return { cures: last.cures, calibration };
}

function assertOpen(s: PracticeSession): void {
	if (s.endedAt) throw new InputError('this practice has ended: begin another one');
	if (unjudged(s)) throw new InputError('say first what you see in the log that is there');
}

/** The stand-in drives with what was released, and sends its log. @throws InputError while a log waits to be judged */
export async function askForLog(app: Reader, s: PracticeSession, now = new Date()): Promise<number> {
	assertOpen(s);
	const { db } = app;
	const { driven, number } = await drivenNow(db, s);
	const round = s.state.rounds.length + 1;
	const answer = await app.pool.run('practiceDrive', {
		dataDir: app.dataDir,
		level: s.level,
		seed: s.seed,
		before: await drivenBefore(db, s),
		now: driven,
		round
	});
	if (!answer.ok) throw new InputError(answer.message);
	const file = await receive(app.dataDir, textBody(answer.text), MOST_BYTES);
	const { id } = await addLog(app, s.jobId, `drive-${round}.csv`, file, 'customer', {
		now,
		words: {
			kind: 'drive',
			words: round === 1 ? levelOf(s.level)!.words : '',
			momentS: null,
			answers: {},
			revisionId: (await currentRevision(db, s.jobId)).id
		}
	});
	const state = structuredClone(s.state);
	state.rounds.push({
		logId: id,
		revision: number,
		cures: [...s.state.cures],
		harm: answer.harm,
		own: null,
		grade: null
	});
	await keep(db, s, state);
	return id;
}
const MOST_BYTES = 1 << 26;

/** What of the hidden truth is still to be seen in the log of a round. */
function truthIn(s: PracticeSession, found: readonly SubjectId[]) {
	const { truth, cures } = sceneOf(levelOf(s.level)!, s.seed);
	if (s.state.rounds.length <= 1) return truth;
	const mended = cures.length > 0 && cures.every((c) => s.state.rounds.at(-1)!.cures.includes(c));
	return mended ? [] : truth.filter((t) => cures.length > 0 || found.includes(t.subject));
}

/** The trainee's own word, and what came of it. @throws InputError while the log is being read, or for a claim without its bank */
export async function judge(
	db: Db,
	s: PracticeSession,
	own: { verdict: Verdict; claims: Claim[] }
): Promise<Grade> {
	const round = unjudged(s);
	if (!round) throw new InputError('there is no log to be judged: ask for one');
	const screening = await screeningOf(db, round.logId);
	if (!screening) throw new InputError('the log is still being read');
	const { verdict, findings } = screening.report;
	const grade = gradeOf(own, truthIn(s, subjectsIn(findings)), { verdict, findings });
	const state = structuredClone(s.state);
	Object.assign(
		state.rounds.find((r) => r.own === null)!,
		{ own, grade }
	);
	await keep(db, s, state);
	return grade;
}

/** Asks the stand-in's customer for something that is no file. @throws InputError for what was asked for already */
export async function askForCure(db: Db, s: PracticeSession, cure: string): Promise<void> {
	assertOpen(s);
	const known = CURES.find((c) => c.id === cure);
	if (!known) throw new InputError('choose what is asked for', 'cure');
	if (s.state.cures.includes(known.id)) throw new InputError('that was done already');
	await keep(db, s, { ...s.state, cures: [...s.state.cures, known.id] });
}

/** Ends it: how the engine fares, and what a practised hand did with the same car. */
export async function endPractice(app: Reader, s: PracticeSession, now = new Date()) {
	if (s.endedAt) throw new InputError('this practice has ended');
	const { driven } = await drivenNow(app.db, s);
	const answer = await app.pool.run('practiceEnd', {
		dataDir: app.dataDir,
		level: s.level,
		seed: s.seed,
		before: await drivenBefore(app.db, s),
		now: driven
	});
	if (!answer.ok) throw new InputError(answer.message);
	const { standing, harm, hand } = answer;
	await keep(app.db, s, { ...s.state, end: { standing, harm, hand } }, now.toISOString());
}

/** What a claim of this car can be about. */
export function whoms(s: Pick<PracticeSession, 'level' | 'seed'>): { banks: number; cylinders: number } {
	const { vehicle } = sceneOf(levelOf(s.level)!, s.seed);
	return { banks: bankCount(vehicle), cylinders: vehicle.engine.cylinders };
}

/** The newest log of a session, where it was read. */
export async function logToJudge(db: Db, s: PracticeSession) {
	const round = unjudged(s);
	const log = round && (await logLine(db, round.logId));
	if (!log) return null;
	return { log, screening: await screeningOf(db, log.id) };
}
