/** Revisions of a job: drafts that hold their changes against the parent, and frozen, numbered, hashed ones. */
import { createHash } from 'node:crypto';
import { z } from 'zod';
import { parseCalibration, type Calibration } from '$core/calibration/document.ts';
import { InputError } from '$core/input-error.ts';
import { withEdits } from '$core/revising/edits.ts';
import { draftEditSchema, type DraftEdit } from '$core/revising/edit-schema.ts';
import { draftChangeSchema, type DraftChange } from '$core/revising/edit-schema.ts';
import { grouped, withChanges } from '$core/revising/changes.ts';
import { proposalSchema, type Proposal } from '$core/revising/proposal.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';

/** JSON with keys in order, so that the same content has the same hash however it was written. */
function canonical(value: unknown): string {
	if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
	if (typeof value === 'object' && value !== null)
		return `{${Object.entries(value)
			.filter(([, v]) => v !== undefined)
			.sort(([a], [b]) => (a < b ? -1 : 1))
			.map(([k, v]) => `${JSON.stringify(k)}:${canonical(v)}`)
			.join(',')}}`;
	return JSON.stringify(value);
}

/** SHA-256 over the canonical JSON of a calibration. */
export function contentHash(calibration: Calibration): string {
	return createHash('sha256').update(canonical(calibration)).digest('hex');
}

export interface Revision {
	id: number;
	jobId: number;
	number: number;
	parentId: number | null;
	state: 'baseline' | 'draft' | 'released';
	calibration: Calibration;
	contentHash: string;
	/** Counts the saves of a draft. */
	version: number;
	changes: DraftChange[];
	/** Settings and axes that differ from the parent, under the changes. */
	edits: DraftEdit[];
	proposal: Proposal | null;
	proposalLogs: number[];
	/** Proposed cells that were rejected, by `item|x|y`. */
	rejected: string[];
	notes: string;
	createdAt: string;
	releasedAt: string | null;
}

export async function revision(db: Db, id: number): Promise<Revision | null> {
	const r = await db.selectFrom('revisions').selectAll().where('id', '=', id).executeTakeFirst();
	if (!r) return null;
	return {
		id: r.id,
		jobId: r.job_id,
		number: r.number,
		parentId: r.parent_id,
		state: r.state,
		calibration: parseCalibration(JSON.parse(r.document)),
		contentHash: r.content_hash,
		version: r.version,
		changes: z.array(draftChangeSchema).parse(JSON.parse(r.changes)),
		edits: z.array(draftEditSchema).parse(JSON.parse(r.edits)),
		proposal: r.proposal ? proposalSchema.parse(JSON.parse(r.proposal)) : null,
		proposalLogs: z.array(z.number()).parse(JSON.parse(r.proposal_logs)),
		rejected: z.array(z.string()).parse(JSON.parse(r.rejected)),
		notes: r.notes,
		createdAt: r.created_at,
		releasedAt: r.released_at
	};
}

export interface RevisionLine {
	id: number;
	number: number;
	state: Revision['state'];
	createdAt: string;
	releasedAt: string | null;
}

export async function revisionsOf(db: Db, jobId: number): Promise<RevisionLine[]> {
	const rows = await db
		.selectFrom('revisions')
		.select(['id', 'number', 'state', 'created_at', 'released_at'])
		.where('job_id', '=', jobId)
		.orderBy('number')
		.execute();
	return rows.map((r) => ({
		id: r.id,
		number: r.number,
		state: r.state,
		createdAt: r.created_at,
		releasedAt: r.released_at
	}));
}

/** The newest frozen revision that was not taken back: what the car should have in it. */
export async function currentRevision(db: Db, jobId: number): Promise<RevisionLine> {
	const gone = new Set((await withdrawalsOf(db, jobId)).map((w) => w.revisionId));
	const frozen = (await revisionsOf(db, jobId)).filter((r) => r.state !== 'draft' && !gone.has(r.id));
	// The calibration as it came can't be taken back, so there always is one.
	return frozen[frozen.length - 1]!;
}

/**
 * What a proposal changes, whichever log it is made from: the revision that the open draft is made from, else the newest that went out. An older
 * log is expressed against it, so that nothing that came later is undone or done twice.
 */
export async function proposalBase(db: Db, jobId: number): Promise<number> {
	const draft = (await revisionsOf(db, jobId)).find((r) => r.state === 'draft');
	const parent = draft && (await revision(db, draft.id))?.parentId;
	return parent ?? (await currentRevision(db, jobId)).id;
}

/** The newest revision that the customer has confirmed to be in the car and that was not taken back; else the calibration as it came. */
export async function confirmedRevision(db: Db, jobId: number): Promise<RevisionLine> {
	const gone = new Set((await withdrawalsOf(db, jobId)).map((w) => w.revisionId));
	const lines = (await revisionsOf(db, jobId)).filter((r) => r.state !== 'draft' && !gone.has(r.id));
	const confirmed = await db
		.selectFrom('revision_events')
		.select(['revision_id', 'id'])
		.where('kind', '=', 'installed')
		.where(
			'revision_id',
			'in',
			lines.map((l) => l.id)
		)
		.orderBy('id', 'desc')
		.executeTakeFirst();
	return lines.find((l) => l.id === confirmed?.revision_id) ?? lines[0]!;
}

export interface Withdrawal {
	eventId: number;
	revisionId: number;
	number: number;
	reason: string;
	at: string;
}

/** Revisions of a job that were taken back, in the order of their numbers. */
export async function withdrawalsOf(db: Db, jobId: number): Promise<Withdrawal[]> {
	return db
		.selectFrom('revision_events')
		.innerJoin('revisions', 'revisions.id', 'revision_events.revision_id')
		.select([
			'revision_events.id as eventId',
			'revisions.id as revisionId',
			'revisions.number',
			'revision_events.reason',
			'revision_events.created_at as at'
		])
		.where('revisions.job_id', '=', jobId)
		.where('revision_events.kind', '=', 'withdrawn')
		.orderBy('revisions.number')
		.execute();
}

/** A draft from a frozen revision with a proposal beside it; nothing is accepted yet. */
export async function createDraft(
	db: Db,
	parent: Revision,
	proposal: Proposal | null,
	logIds: readonly number[],
	now = new Date()
): Promise<number> {
	return db.transaction().execute((trx) => insertDraft(trx, parent, proposal, logIds, now));
}

/** The same within a transaction of the caller's. */
export async function insertDraft(
	trx: Db,
	parent: Revision,
	proposal: Proposal | null,
	logIds: readonly number[],
	now: Date
): Promise<number> {
	if (parent.state === 'draft')
		throw new InputError('a draft starts from a revision that is released or was received');
	const lines = await revisionsOf(trx, parent.jobId);
	const open = lines.find((l) => l.state === 'draft');
	if (open) throw new InputError(`R${open.number} is still a draft; release or discard it first`);
	const id = await nextId(trx, 'revisions');
	await trx
		.insertInto('revisions')
		.values({
			id,
			job_id: parent.jobId,
			number: Math.max(...lines.map((l) => l.number)) + 1,
			parent_id: parent.id,
			state: 'draft',
			document: JSON.stringify(parent.calibration),
			content_hash: parent.contentHash,
			changes: '[]',
			proposal: proposal ? JSON.stringify(proposal) : null,
			proposal_logs: JSON.stringify(logIds),
			notes: '',
			created_at: now.toISOString()
		})
		.execute();
	return id;
}

/**
 * Lays a proposal beside a draft that exists: what is in the draft stays, what is proposed is decided anew.
 * @throws InputError where the draft starts from another revision than the proposal, or is no draft any more
 */
export async function takeProposal(
	db: Db,
	draftId: number,
	baseId: number,
	proposal: Proposal,
	logIds: readonly number[]
): Promise<number> {
	const draft = await revision(db, draftId);
	if (draft?.parentId !== baseId)
		throw new InputError(
			`R${draft?.number ?? ''} is a draft from another revision than the newest; release or discard it first`
		);
	const taken = await db
		.updateTable('revisions')
		.set((e) => ({
			proposal: JSON.stringify(proposal),
			proposal_logs: JSON.stringify(logIds),
			rejected: '[]',
			version: e('version', '+', 1)
		}))
		.where('id', '=', draftId)
		.where('state', '=', 'draft')
		.executeTakeFirst();
	if (!taken.numUpdatedRows)
		throw new InputError(`R${draft.number} is released; it can't be changed any more`);
	return draftId;
}

/**
 * What a log, a reading of plugs or a rung of the ladder asks for, laid beside the draft that there is, else beside a new one from the revision that was driven.
 * @param baseId the revision that was driven
 * @param logIds the logs that it was made from
 * @returns id of the draft
 * @throws InputError where the draft is of another revision
 */
export async function layBeside(
	db: Db,
	jobId: number,
	baseId: number,
	proposal: Proposal,
	logIds: readonly number[]
): Promise<number> {
	const open = (await revisionsOf(db, jobId)).find((r) => r.state === 'draft');
	if (open) return takeProposal(db, open.id, baseId, proposal, logIds);
	return createDraft(db, (await revision(db, baseId))!, proposal, logIds);
}

/** A save that was made on another version than the one that is stored: both are needed to bring them together. */
export class ChangedElsewhere extends Error {
	constructor(readonly stored: Revision) {
		super(`R${stored.number} was changed elsewhere in the meantime`);
	}
}

/**
 * Replaces all changes of a draft; its document is always the parent with exactly these edits, and these changes over them.
 * @param version the one that the changes were made on; whatever is stored when missing
 * @param rejected proposed cells that were decided against
 * @returns the version that it is now
 * @throws ChangedElsewhere when another save came first; InputError when it is no draft any more
 */
export async function saveChanges(
	db: Db,
	draft: Revision,
	changes: readonly DraftChange[],
	edits: readonly DraftEdit[] = draft.edits,
	version?: number,
	rejected: readonly string[] = draft.rejected
): Promise<number> {
	if (draft.state !== 'draft')
		throw new InputError(`R${draft.number} is released; it can't be changed any more`);
	const parent = await revision(db, draft.parentId!);
	const calibration = withChanges(withEdits(parent!.calibration, edits), grouped(changes));
	let save = db
		.updateTable('revisions')
		.set((e) => ({
			changes: JSON.stringify(changes),
			edits: JSON.stringify(edits),
			rejected: JSON.stringify(rejected),
			document: JSON.stringify(calibration),
			content_hash: contentHash(calibration),
			version: e('version', '+', 1)
		}))
		.where('id', '=', draft.id)
		.where('state', '=', 'draft');
	if (version !== undefined) save = save.where('version', '=', version);
	const saved = await save.returning('version').executeTakeFirst();
	if (saved) return saved.version;
	const stored = await revision(db, draft.id);
	if (!stored) throw new InputError(`R${draft.number} was discarded`);
	if (stored.state !== 'draft')
		throw new InputError(`R${draft.number} is released; it can't be changed any more`);
	throw new ChangedElsewhere(stored);
}

export async function discardDraft(db: Db, draft: Revision): Promise<void> {
	if (draft.state !== 'draft') throw new InputError(`R${draft.number} is released; it can't be discarded`);
	await db.deleteFrom('revisions').where('id', '=', draft.id).where('state', '=', 'draft').execute();
}

/** R0 of a job. */
export async function baselineOf(db: Db, jobId: number): Promise<Revision> {
	const line = (await revisionsOf(db, jobId)).find((l) => l.state === 'baseline')!;
	return (await revision(db, line.id))!;
}
