/**
 * R0, the calibration as it came: completed table by table, and replaced, until something was released from it. What is pasted after that
 * is added by the draft that is open.
 */
import { parseCalibration, type Calibration, type Item } from '$core/calibration/document.ts';
import { findItem } from '$core/calibration/lookup.ts';
import { titleOf } from '$core/calibration/items.ts';
import type { DraftEdit } from '$core/revising/edit-schema.ts';
import { InputError } from '$core/input-error.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import {
	baselineOf,
	contentHash,
	revision,
	revisionsOf,
	saveChanges,
	type Revision
} from '$lib/server/revisions/revisions.ts';
import { readJobAgain } from './read-again.ts';

/** Why R0 of a job can't be changed any more; empty where it can. */
export async function whyFrozen(db: Db, jobId: number): Promise<string> {
	const lines = await revisionsOf(db, jobId);
	const released = lines.find((l) => l.state === 'released');
	if (released) return `R${released.number} was released from it`;
	const draft = lines.find((l) => l.state === 'draft');
	return draft ? `R${draft.number} is a draft from it: release or discard it first` : '';
}

/**
 * Stores another R0 and screens the job's logs again: they are judged by it.
 * @param inside done in the same transaction
 */
export async function replaceBaseline(
	app: App,
	jobId: number,
	calibration: Calibration,
	inside: (trx: Db) => Promise<void> = async () => {}
): Promise<void> {
	const { db } = app;
	const frozen = await whyFrozen(db, jobId);
	if (frozen) throw new InputError(`R0 can't be changed any more: ${frozen}`);
	const next = parseCalibration(calibration);
	const baseline = await baselineOf(db, jobId);
	await db.transaction().execute(async (trx) => {
		await trx
			.updateTable('revisions')
			.set({ document: JSON.stringify(next), content_hash: contentHash(next) })
			.where('id', '=', baseline.id)
			.where('state', '=', 'baseline')
			.execute();
		await inside(trx);
	});
	await readJobAgain(app, jobId);
}

/** Puts items into R0: those of the same id are replaced, others come at the end. */
export async function putItems(
	app: App,
	jobId: number,
	items: readonly Item[],
	inside?: (trx: Db) => Promise<void>
): Promise<void> {
	const { calibration } = await baselineOf(app.db, jobId);
	await replaceBaseline(
		app,
		jobId,
		{
			...calibration,
			items: [
				...calibration.items.map((i) => items.find((n) => n.id === i.id) ?? i),
				...items.filter((n) => !calibration.items.some((i) => i.id === n.id))
			]
		},
		inside
	);
}

/** Where pasted items go: R0 while it may be completed, else the draft that is open; `null` where there is neither. */
export async function placeForItems(db: Db, jobId: number): Promise<Revision | null> {
	if (!(await whyFrozen(db, jobId))) return baselineOf(db, jobId);
	const draft = (await revisionsOf(db, jobId)).find((l) => l.state === 'draft');
	return draft ? revision(db, draft.id) : null;
}

/**
 * Adds items to a draft, each with its reason.
 * @throws InputError where one is there already: its cells are changed on the page of the draft
 */
export async function addToDraft(
	db: Db,
	draft: Revision,
	items: readonly Item[],
	reason: string,
	inside: (trx: Db) => Promise<void>
): Promise<void> {
	const known = items.find((i) => findItem(draft.calibration, i.id));
	if (known)
		throw new InputError(
			`“${titleOf(known)}” is in R${draft.number} already: paste it on the page of the draft, where old and new are shown`
		);
	const edits = items.map((to): DraftEdit => ({ kind: 'added', item: to.id, to, reason }));
	await db.transaction().execute(async (trx) => {
		await saveChanges(trx, draft, draft.changes, [...draft.edits, ...edits], draft.version);
		await inside(trx);
	});
}

export async function dropItem(app: App, jobId: number, id: string): Promise<void> {
	const { calibration } = await baselineOf(app.db, jobId);
	await replaceBaseline(app, jobId, { ...calibration, items: calibration.items.filter((i) => i.id !== id) });
}
