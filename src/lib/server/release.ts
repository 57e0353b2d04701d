/** Releasing a draft: what holds it, what was answered, freezing it, and what becomes of it afterwards. */
import { compare, type Change } from '../../core/calibration/compare.ts';
import { InputError } from '../../core/input-error.ts';
import { holdsOf, standing, REASON_LENGTH, type Hold, type HoldInput } from '../../core/revising/holds.ts';
import { cautionsFor } from '../../core/revising/notes.ts';
import { replaySchema, type Replay } from '../../core/revising/replay.ts';
import { profileOf } from '../../core/limits/profile.ts';
import { findItem } from '../../core/calibration/document.ts';
import { titleOf } from '../../core/calibration/items.ts';
import type { Vehicle } from '../../core/vehicle/document.ts';
import type { App } from './context.ts';
import { attachmentsOf, filesSeen } from './attachments.ts';
import { layoutOfJob } from './table-layouts.ts';
import { carryLines, tableProofsOf } from './table-proofs.ts';
import { answersOf } from './answers.ts';
import type { Db } from './db/open.ts';
import { screeningOf } from './logs.ts';
import { proofsOf } from './proofs.ts';
import { findingKey } from '../../core/screening/types.ts';
import { revision, withdrawalsOf, type Revision } from './revisions.ts';
import { typedOf } from './typed.ts';
import { vehicleOfJob } from './vehicles.ts';

export interface ReleaseCheck {
	changes: Change[];
	holds: Hold[];
	/** Nothing differs from the parent. */
	empty: boolean;
	/** Every change makes things safer or is a mere record. */
	onlySafer: boolean;
	cautions: string[];
	/** The newest log of the job, which the holds speak of. */
	log: { id: number; name: string } | null;
	/** What that log found, by which a hold can be traced to its finding. */
	found: { key: string; summary: string }[];
}

/**
 * The newest log of a job that has ever been screened, and of those made with one revision. While it is read again, or can't be, its
 * newest finished screening still speaks.
 */
export async function newestLog(db: Db, jobId: number, revisionId?: number) {
	let query = db
		.selectFrom('logs')
		.select(['id', 'name'])
		.where('job_id', '=', jobId)
		.where('id', 'in', (e) => e.selectFrom('screenings').select('log_id'))
		.where('declined_at', 'is', null)
		.where('taken_out', 'is', null)
		.orderBy('id', 'desc');
	if (revisionId !== undefined) query = query.where('revision_id', '=', revisionId);
	return (await query.executeTakeFirst()) ?? null;
}

/** The log that speaks for the tables of a revision: the one its proposal was made from, else the newest made with its parent or with it. */
export async function logBehind(db: Db, rev: Revision): Promise<{ id: number; name: string } | null> {
	const source = rev.proposalLogs[0];
	const named =
		source === undefined
			? undefined
			: await db.selectFrom('logs').select(['id', 'name']).where('id', '=', source).executeTakeFirst();
	return (
		named ?? (await newestLog(db, rev.jobId, rev.parentId ?? rev.id)) ?? (await newestLog(db, rev.jobId))
	);
}

/** What stands between a draft and its release. @param replayed the newest log with this draft */
export async function releaseCheck(
	db: Db,
	draft: Revision,
	replayed: Pick<ReplayOfDraft, 'replay' | 'problem'>
): Promise<ReleaseCheck> {
	const parent = (await revision(db, draft.parentId!))!;
	const { changes } = compare(parent.calibration, draft.calibration);
	const log = await newestLog(db, draft.jobId);
	const screening = log ? await screeningOf(db, log.id) : null;
	const answers = await answersOf(db, draft.jobId);
	const vehicle = await vehicleOfJob(db, draft.jobId);
	const holds = holdsOf({
		changes,
		parent: parent.calibration,
		draft: draft.calibration,
		cells: draft.changes,
		edits: draft.edits,
		report: screening?.report ?? null,
		// What was resolved in an earlier log and stands again in this one isn't resolved.
		answered: new Set(
			Object.values(answers)
				.filter((a) => a.kind !== 'resolved' || (log !== null && a.logId >= log.id))
				.map((a) => a.key)
		),
		parentLogged: (await newestLog(db, draft.jobId, parent.id)) !== null,
		parentIsBaseline: parent.state === 'baseline',
		unread: await unreadLogs(db, draft.jobId),
		replay: replayed.replay,
		replayProblem: log ? replayed.problem : '',
		proofs: (await proofsOf(db, draft.jobId)).map((p) => p.verdict.verdict),
		typed: log ? await differing(db, log.id, vehicle) : [],
		file: await fileState(db, draft, parent, vehicle),
		profile: profileOf(vehicle.limits)
	});
	return {
		changes,
		holds,
		empty: changes.length === 0,
		onlySafer: changes.every((c) => c.class === 'safer' || c.class === 'neutral'),
		cautions: cautionsFor(changes, draft.changes.length > 0 && draft.proposal?.resetTrims === true),
		log,
		found: (screening?.report.findings ?? []).map((f) => ({ key: findingKey(f), summary: f.summary }))
	};
}

/** Typed readings beside a log that differ from it. */
async function differing(db: Db, logId: number, vehicle: Vehicle): Promise<HoldInput['typed']> {
	return (await typedOf(db, logId, vehicle)).flatMap(({ id, reading, answer }) =>
		answer.state === 'differs'
			? [
					{
						id,
						kind: reading.kind === 'timing' ? ('timing' as const) : ('fuel' as const),
						source: reading.source,
						words: answer.words
					}
				]
			: []
	);
}

/** Where the tables of a job were pasted from a tuner's program, what is known of the file that goes out. */
async function fileState(
	db: Db,
	draft: Revision,
	parent: Revision,
	vehicle: Vehicle
): Promise<HoldInput['file']> {
	const job = await db
		.selectFrom('jobs')
		.select('layout_id')
		.where('id', '=', draft.jobId)
		.executeTakeFirst();
	if (!job?.layout_id) return null;
	const { layout } = await layoutOfJob(db, draft.jobId, vehicle, draft.calibration.fuelModel);
	const base = parent.state === 'released' ? parent.calibration : null;
	const proofs = (await tableProofsOf(db, draft)).filter((p) => !p.stale);
	const titled = (id: string) => titleOf(findItem(draft.calibration, id) ?? { id });
	const lines = carryLines(base, draft.calibration, layout);
	return {
		attached: (await attachmentsOf(db, draft.id)).length > 0,
		differ: proofs
			.filter((p) => !p.result.match)
			.map((p) => ({ title: titled(p.item), fits: p.result.fits })),
		unproved: lines.filter((l) => !proofs.some((p) => p.item === l.item)).map((l) => titled(l.item))
	};
}

/** Logs of a job that nobody has declined and that aren't screened now: waiting, being read, or not readable. */
export async function unreadLogs(db: Db, jobId: number): Promise<HoldInput['unread']> {
	const rows = await db
		.selectFrom('logs')
		.select(['id', 'name', 'state'])
		.where('job_id', '=', jobId)
		.where('state', '!=', 'screened')
		.where('declined_at', 'is', null)
		.where('taken_out', 'is', null)
		.orderBy('id')
		.execute();
	return rows.map((r) => ({ id: r.id, name: r.name, failed: r.state === 'failed' }));
}

export interface ReplayOfDraft {
	replay: Replay | null;
	log: { id: number; name: string } | null;
	/** Why there is none, in words. */
	problem: string;
}

/** The log to replay: the newest one made with the parent unless another is named. */
async function logToReplay(db: Db, draft: Revision, logId: number | undefined) {
	return logId === undefined
		? ((draft.parentId === null ? null : await newestLog(db, draft.jobId, draft.parentId)) ??
				(await newestLog(db, draft.jobId)))
		: ((await db
				.selectFrom('logs')
				.select(['id', 'name'])
				.where('id', '=', logId)
				.where('job_id', '=', draft.jobId)
				.executeTakeFirst()) ?? null);
}

const NO_LOG: ReplayOfDraft = {
	replay: null,
	log: null,
	problem: 'there is no screened log in this job yet'
};

/** The same with everything that is proposed for a draft, accepted or not: what would come out, before anybody decides. */
export async function replayOfProposal(app: App, draft: Revision, logId?: number): Promise<ReplayOfDraft> {
	const log = await logToReplay(app.db, draft, logId);
	if (!log) return NO_LOG;
	const answer = await app.pool.replay({
		dataDir: app.dataDir,
		logId: log.id,
		revisionId: draft.id,
		withProposal: true
	});
	return answer.ok
		? { replay: answer.replay, log, problem: '' }
		: { replay: null, log, problem: answer.message };
}

/** A log of the job with this revision: the newest one made with its parent unless another is named. Kept until either changes. */
export async function replayOf(app: App, draft: Revision, logId?: number): Promise<ReplayOfDraft> {
	const { db } = app;
	const log = await logToReplay(db, draft, logId);
	if (!log) return NO_LOG;
	const kept = await db
		.selectFrom('replays')
		.select(['content_hash', 'result'])
		.where('revision_id', '=', draft.id)
		.where('log_id', '=', log.id)
		.executeTakeFirst();
	// The log may have been read again with other units or another vehicle: its newest screening belongs to the key.
	const run = await db
		.selectFrom('screenings')
		.select(({ fn }) => fn.max('id').as('id'))
		.where('log_id', '=', log.id)
		.executeTakeFirst();
	const key = `${draft.contentHash} ${run?.id ?? 0}`;
	if (kept?.content_hash === key)
		return { replay: replaySchema.parse(JSON.parse(kept.result)), log, problem: '' };
	const answer = await app.pool.replay({ dataDir: app.dataDir, logId: log.id, revisionId: draft.id });
	if (!answer.ok) return { replay: null, log, problem: answer.message };
	const row = { content_hash: key, result: JSON.stringify(answer.replay) };
	await db
		.insertInto('replays')
		.values({ revision_id: draft.id, log_id: log.id, ...row })
		.onConflict((c) => c.columns(['revision_id', 'log_id']).doUpdateSet(row))
		.execute();
	return { replay: answer.replay, log, problem: '' };
}

/** Notes and reasons go out as messages; they are refused before anything is stored, not after. */
const NOTES_LENGTH = 6000;
export const WORDS_LENGTH = 2000;

export interface ReleaseWords {
	/** Change notes in words for the customer. */
	notes: string;
	/** Written reasons by hold. */
	answers: Readonly<Record<string, string>>;
	author: string;
	/** The closed file holds what the tables say. */
	filesConfirmed: boolean;
	/** What the page that is answered spoke of: the content of the draft, and its closed files. */
	examined: { contentHash: string; files: string };
}

const CHANGED = 'was changed since this page was opened: look at it again before it goes out';

/**
 * Freezes a draft with its notes and the answers to its holds.
 * @param inside done in the same transaction, once it is frozen
 * @throws InputError when it is empty, a hold stands, a closed file was not confirmed, or it isn't what was examined any more
 */
export async function release(
	db: Db,
	draft: Revision,
	words: ReleaseWords,
	replayed: Pick<ReplayOfDraft, 'replay' | 'problem'>,
	now = new Date(),
	inside: (trx: Db) => Promise<void> = async () => {}
): Promise<void> {
	if (draft.contentHash !== words.examined.contentHash) throw new InputError(`R${draft.number} ${CHANGED}`);
	if (draft.state !== 'draft') throw new InputError(`R${draft.number} is already released`);
	if (words.notes.length > NOTES_LENGTH)
		throw new InputError(`the notes are too long for a message: at most ${NOTES_LENGTH} characters`);
	const check = await releaseCheck(db, draft, replayed);
	if (check.empty)
		throw new InputError('nothing differs from the revision before; there is nothing to release');
	const [stands] = standing(check.holds, words.answers);
	if (stands)
		throw new InputError(
			stands.answerable
				? `${stands.title}: resolve it, or write why it may go out all the same (at least ${REASON_LENGTH} characters)`
				: `${stands.title}: ${stands.why}`
		);
	const files = await db
		.selectFrom('attachments')
		.select('id')
		.where('revision_id', '=', draft.id)
		.executeTakeFirst();
	if (files && !words.filesConfirmed)
		throw new InputError('confirm that the closed file holds what the tables say');
	await db.transaction().execute(async (trx) => {
		const done = await trx
			.updateTable('revisions')
			.set({ state: 'released', notes: words.notes.trim(), released_at: now.toISOString() })
			.where('id', '=', draft.id)
			.where('state', '=', 'draft')
			.where('content_hash', '=', words.examined.contentHash)
			.executeTakeFirst();
		if (done.numUpdatedRows === 0n) {
			const state = (await revision(trx, draft.id))?.state;
			throw new InputError(
				state === 'draft' ? `R${draft.number} ${CHANGED}` : `R${draft.number} is already released`
			);
		}
		if ((await filesSeen(trx, draft.id)) !== words.examined.files)
			throw new InputError(`a closed file of R${draft.number} ${CHANGED}`);
		const reading = (await unreadLogs(trx, draft.jobId)).filter((l) => !l.failed);
		if (reading.length && !check.onlySafer)
			throw new InputError(`${reading[0]!.name} is being read: wait for what it says`);
		for (const hold of check.holds)
			await trx
				.insertInto('hold_answers')
				.values({
					revision_id: draft.id,
					hold: hold.id,
					title: hold.title,
					reason: words.answers[hold.id]!.trim(),
					author: words.author,
					created_at: now.toISOString()
				})
				.execute();
		await inside(trx);
	});
}

export interface HoldAnswer {
	title: string;
	reason: string;
	author: string;
	at: string;
}

/** Holds that a released revision went out over, with who wrote what. */
export async function holdAnswersOf(db: Db, revisionId: number): Promise<HoldAnswer[]> {
	return db
		.selectFrom('hold_answers')
		.select(['title', 'reason', 'author', 'created_at as at'])
		.where('revision_id', '=', revisionId)
		.execute();
}

export interface RevisionEvent {
	/** Counts up with time, whatever the clock says. */
	id: number;
	kind: 'installed' | 'withdrawn';
	author: string;
	reason: string;
	at: string;
}

export async function eventsOf(db: Db, revisionId: number): Promise<RevisionEvent[]> {
	return db
		.selectFrom('revision_events')
		.select(['id', 'kind', 'author', 'reason', 'created_at as at'])
		.where('revision_id', '=', revisionId)
		.orderBy('id')
		.execute();
}

/** The customer has said that it is in the car, and no later one that went in since was taken back. */
async function isConfirmed(db: Db, rev: Revision): Promise<boolean> {
	const later = (await withdrawalsOf(db, rev.jobId)).filter((w) => w.number > rev.number);
	const since = Math.max(0, ...later.map((w) => w.eventId));
	return (await eventsOf(db, rev.id)).some((e) => e.kind === 'installed' && e.id > since);
}

/** The customer says that it is in the car. Saying so twice changes nothing. */
export async function confirmInstalled(
	db: Db,
	rev: Revision,
	author: string,
	now = new Date()
): Promise<void> {
	if (rev.state !== 'released') throw new InputError(`R${rev.number} is not released`);
	const events = await eventsOf(db, rev.id);
	if (events.some((e) => e.kind === 'withdrawn'))
		throw new InputError(`R${rev.number} was withdrawn: don't use it`);
	if (await isConfirmed(db, rev)) return;
	await db
		.insertInto('revision_events')
		.values({ revision_id: rev.id, kind: 'installed', author, reason: '', created_at: now.toISOString() })
		.execute();
}

/** A released revision is taken back: it stays in the record, and nobody should drive on it. @throws InputError without a reason */
export async function withdraw(
	db: Db,
	rev: Revision,
	author: string,
	reason: string,
	now = new Date()
): Promise<void> {
	if (rev.state !== 'released') throw new InputError(`R${rev.number} is not released`);
	if (reason.trim().length < REASON_LENGTH)
		throw new InputError(`write why it is withdrawn (at least ${REASON_LENGTH} characters)`);
	if (reason.length > WORDS_LENGTH)
		throw new InputError(`the reason is too long: at most ${WORDS_LENGTH} characters`);
	await db.transaction().execute(async (trx) => {
		if ((await eventsOf(trx, rev.id)).some((e) => e.kind === 'withdrawn'))
			throw new InputError(`R${rev.number} is already withdrawn`);
		await trx
			.insertInto('revision_events')
			.values({
				revision_id: rev.id,
				kind: 'withdrawn',
				author,
				reason: reason.trim(),
				created_at: now.toISOString()
			})
			.execute();
	});
}
