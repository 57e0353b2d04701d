/** The look over the car: what the customer answered, and the photos, made small and without what a camera writes into them. */
import sharp from 'sharp';
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { parseWith } from '$core/parse.ts';
import { INSPECTION } from '$core/planning/inspection.ts';
import { dropFile } from '$lib/server/storage/stored-files.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import { arrived, receive } from '$lib/server/storage/files.ts';

export const MAX_PHOTO_BYTES = 15 << 20;
const MAX_PHOTOS = 80;
/** What a photo of a plug is kept under. */
const PLUG_ITEM = /^plug-([1-9]|1[0-6])$/;
export const plugItem = (cylinder: number): string => `plug-${cylinder}`;
const LONGEST_SIDE = 1600;
const QUALITY = 78;
/** A picture that claims to be larger than any phone's is a bomb. */
const MAX_PIXELS = 120e6;

export interface InspectionState {
	item: string;
	state: 'fine' | 'not-fine' | 'unsure' | null;
	remark: string;
	photos: { id: number; width: number; height: number }[];
}

export async function inspectionOf(db: Db, jobId: number): Promise<InspectionState[]> {
	const answers = await db.selectFrom('inspection').selectAll().where('job_id', '=', jobId).execute();
	const photos = await db
		.selectFrom('photos')
		.select(['id', 'item', 'width', 'height'])
		.where('job_id', '=', jobId)
		.orderBy('id')
		.execute();
	return INSPECTION.map((item) => {
		const answer = answers.find((a) => a.item === item.id);
		return {
			item: item.id,
			state: answer?.state ?? null,
			remark: answer?.remark ?? '',
			photos: photos.filter((p) => p.item === item.id).map(({ id, width, height }) => ({ id, width, height }))
		};
	});
}

/** Photos of plugs by cylinder, the newest first. */
export async function plugPhotosOf(
	db: Db,
	jobId: number
): Promise<{ id: number; cylinder: number; width: number; height: number; at: string }[]> {
	const rows = await db
		.selectFrom('photos')
		.select(['id', 'item', 'width', 'height', 'created_at'])
		.where('job_id', '=', jobId)
		.orderBy('id', 'desc')
		.execute();
	return rows.flatMap(({ id, item, width, height, created_at }) => {
		const cylinder = PLUG_ITEM.exec(item)?.[1];
		return cylinder ? [{ id, cylinder: Number(cylinder), width, height, at: created_at }] : [];
	});
}

const answerSchema = z.object({
	item: z.enum(INSPECTION.map((i) => i.id) as [string, ...string[]]),
	state: z.enum(['fine', 'not-fine', 'unsure']),
	remark: z.string().trim().max(1000, 'at most 1000 characters')
});

/** @throws InputError for an unknown item or state, or a remark that is too long */
export async function answerInspection(
	db: Db,
	jobId: number,
	input: unknown,
	now = new Date()
): Promise<void> {
	const { item, state, remark } = parseWith(answerSchema, input);
	const at = now.toISOString();
	await db
		.insertInto('inspection')
		.values({ job_id: jobId, item, state, remark, at })
		.onConflict((c) => c.columns(['job_id', 'item']).doUpdateSet({ state, remark, at }))
		.execute();
}

/**
 * Stores a photo: drawn anew, so that place, time and camera are gone, upright, at most 1600 pixels long.
 * @throws InputError when it is no picture, too large, or there are too many
 */
export async function addPhoto(
	db: Db,
	dataDir: string,
	jobId: number,
	item: string,
	bytes: Uint8Array,
	now = new Date()
): Promise<number> {
	if (!INSPECTION.some((i) => i.id === item) && !PLUG_ITEM.test(item))
		throw new InputError('there is no such item in the list');
	await refuseTooMany(db, jobId);
	const { data, info } = await sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'error' })
		.rotate()
		.resize({ width: LONGEST_SIDE, height: LONGEST_SIDE, fit: 'inside', withoutEnlargement: true })
		.jpeg({ quality: QUALITY, mozjpeg: true })
		.toBuffer({ resolveWithObject: true })
		.catch(() => {
			throw new InputError('this is no photo that can be read; send a JPEG or PNG', 'Photo');
		});
	const file = await receive(dataDir, new Blob([new Uint8Array(data)]).stream() as never, MAX_PHOTO_BYTES);
	// Counted again where it is stored: many may arrive at once.
	const stored = await db.transaction().execute(async (trx) => {
		await refuseTooMany(trx, jobId);
		const id = await nextId(trx, 'photos');
		await trx
			.insertInto('photos')
			.values({
				id,
				job_id: jobId,
				item,
				sha256: file.sha256,
				bytes: file.bytes,
				width: info.width,
				height: info.height,
				created_at: now.toISOString()
			})
			.execute();
		return id;
	});
	arrived(file);
	return stored;
}

async function refuseTooMany(db: Db, jobId: number): Promise<void> {
	const { count } = await db
		.selectFrom('photos')
		.select(({ fn }) => fn.countAll<number>().as('count'))
		.where('job_id', '=', jobId)
		.executeTakeFirstOrThrow();
	if (count >= MAX_PHOTOS)
		throw new InputError(`there are ${MAX_PHOTOS} photos already; take one out first`, 'Photo');
}

/** Takes a photo out, and its file where nothing else has the same bytes. */
export async function removePhoto(db: Db, dataDir: string, jobId: number, id: number): Promise<void> {
	const photo = await photoOf(db, jobId, id);
	if (!photo) return;
	await db.deleteFrom('photos').where('id', '=', id).where('job_id', '=', jobId).execute();
	await dropFile(db, dataDir, photo.sha256);
}

/** A photo of this very job. */
export async function photoOf(db: Db, jobId: number, id: number): Promise<{ sha256: string } | null> {
	const row = await db
		.selectFrom('photos')
		.select('sha256')
		.where('id', '=', id)
		.where('job_id', '=', jobId)
		.executeTakeFirst();
	return row ?? null;
}
