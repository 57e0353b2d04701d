/**
 * A recording kit: what a customer needs to record with a controller's program, kept with the layout of its tables. The next job with that controller has
 * it. Steps are short lines; files are channel sets, gauge layouts and pictures.
 */
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { parseWith } from '$core/parse.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
import { safeName, type StoredFile } from '$lib/server/storage/files.ts';
import { currentRevision, revision } from './revisions.ts';
import { keptLayout, layoutOfJob } from './table-layouts.ts';

export interface KitFile {
	id: number;
	name: string;
	bytes: number;
	sha256: string;
	author: string;
	at: string;
	/** What a browser may draw it as; `null` for what is only downloaded. */
	picture: string | null;
}

export interface RecordingKit {
	steps: string[];
	files: KitFile[];
}

const PICTURES: Readonly<Record<string, string>> = {
	png: 'image/png',
	jpg: 'image/jpeg',
	jpeg: 'image/jpeg',
	webp: 'image/webp'
};
const MOST_STEPS = 15;
const MOST_FILES = 20;
const steps = z
	.array(z.string().max(200, 'a step is longer than 200 characters: make two of it'))
	.max(MOST_STEPS, `more than ${MOST_STEPS} steps: nobody follows them at the car`);

export async function kitOf(db: Db, layoutId: number): Promise<RecordingKit> {
	const kit = await db
		.selectFrom('recording_kits')
		.select('steps')
		.where('layout_id', '=', layoutId)
		.executeTakeFirst();
	const files = await db
		.selectFrom('kit_files')
		.selectAll()
		.where('layout_id', '=', layoutId)
		.orderBy('id')
		.execute();
	return {
		steps: kit?.steps.split('\n').filter(Boolean) ?? [],
		files: files.map(({ id, name, bytes, sha256, author, created_at }) => ({
			id,
			name,
			bytes,
			sha256,
			author,
			at: created_at,
			picture: PICTURES[/\.(\w+)$/.exec(name)?.[1]?.toLowerCase() ?? ''] ?? null
		}))
	};
}

/** The kit of a job's controller, by the layout that its tables have; empty where nobody made one. */
export async function kitOfJob(
	db: Db,
	job: Pick<JobView, 'id' | 'vehicle'>
): Promise<RecordingKit & { layoutId: number | null }> {
	const { calibration } = (await revision(db, (await currentRevision(db, job.id)).id))!;
	const { id } = await layoutOfJob(db, job.id, job.vehicle, calibration.fuelModel);
	return id === null ? { steps: [], files: [], layoutId: null } : { ...(await kitOf(db, id)), layoutId: id };
}

async function mustBe(db: Db, layoutId: number): Promise<void> {
	if (!(await keptLayout(db, layoutId))) throw new InputError('there is no such layout any more');
}

/** @param text one step a line @throws InputError naming what is too long */
export async function keepSteps(
	db: Db,
	layoutId: number,
	author: string,
	text: string,
	now = new Date()
): Promise<void> {
	const lines = text.split(/\r?\n/).map((l) => l.trim());
	const kept = parseWith(steps, lines.filter(Boolean)).join('\n');
	await mustBe(db, layoutId);
	const row = { steps: kept, author, updated_at: now.toISOString() };
	await db
		.insertInto('recording_kits')
		.values({ layout_id: layoutId, ...row })
		.onConflict((c) => c.column('layout_id').doUpdateSet(row))
		.execute();
}

/**
 * A file of the kit; one of the same name takes the place of the one before.
 * @returns hash of the file that it replaced, which nothing may name any more
 */
export async function addKitFile(
	db: Db,
	layoutId: number,
	author: string,
	file: StoredFile,
	name: string,
	now = new Date()
): Promise<string | null> {
	await mustBe(db, layoutId);
	const called = safeName(name);
	return db.transaction().execute(async (trx) => {
		const { files } = await kitOf(trx, layoutId);
		const same = files.find((f) => f.name === called);
		if (!same && files.length >= MOST_FILES)
			throw new InputError(`a kit has ${MOST_FILES} files at most: remove one first`);
		if (same) await trx.deleteFrom('kit_files').where('id', '=', same.id).execute();
		await trx
			.insertInto('kit_files')
			.values({
				id: await nextId(trx, 'kit_files'),
				layout_id: layoutId,
				name: called,
				bytes: file.bytes,
				sha256: file.sha256,
				author,
				created_at: now.toISOString()
			})
			.execute();
		return same?.sha256 ?? null;
	});
}

/** @returns hash of the file, which nothing may name any more @throws InputError where there is none */
export async function removeKitFile(db: Db, layoutId: number, id: number): Promise<string> {
	const row = await db
		.deleteFrom('kit_files')
		.where('id', '=', id)
		.where('layout_id', '=', layoutId)
		.returning('sha256')
		.executeTakeFirst();
	if (!row) throw new InputError('there is no such file in this kit any more');
	return row.sha256;
}
