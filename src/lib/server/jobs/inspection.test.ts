/** What the customer found on looking over the car, and the photos with it. */
import { existsSync, readFileSync } from 'node:fs';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Db } from '$lib/server/db/open.ts';
import { pathOfFile } from '$lib/server/storage/files.ts';
import { addPhoto, answerInspection, inspectionOf, photoOf, removePhoto } from './inspection.ts';
import { openWorld, putJob, type World } from '$lib/server/testing/world.ts';

let world: World;
let folder: string;
let db: Db;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	({ folder, db } = world);
	jobId = await putJob(db);
});
afterEach(() => world.close());

describe('the look over the car', () => {
	it('an answer replaces the one before; unknown items and states are refused', async () => {
		await answerInspection(db, jobId, { item: 'clamps', state: 'unsure', remark: 'damp' });
		await answerInspection(db, jobId, { item: 'clamps', state: 'fine', remark: '' });
		expect((await inspectionOf(db, jobId)).find((i) => i.item === 'clamps')).toMatchObject({
			state: 'fine',
			remark: ''
		});
		await expect(answerInspection(db, jobId, { item: 'paint', state: 'fine', remark: '' })).rejects.toThrow(
			'item'
		);
		await expect(answerInspection(db, jobId, { item: 'clamps', state: 'x', remark: '' })).rejects.toThrow(
			'state'
		);
	});
	it('a photo belongs to its job, and what is no picture is refused', async () => {
		const pixel = Buffer.from(
			'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
			'base64'
		);
		const id = await addPhoto(db, folder, jobId, 'clamps', pixel);
		const stored = readFileSync(pathOfFile(folder, (await photoOf(db, jobId, id))!.sha256));
		expect([stored[0], stored[1]]).toEqual([0xff, 0xd8]);
		expect(await photoOf(db, jobId + 1, id)).toBeNull();
		await removePhoto(db, folder, jobId + 1, id);
		expect(await photoOf(db, jobId, id)).not.toBeNull();
		const { sha256 } = (await photoOf(db, jobId, id))!;
		await removePhoto(db, folder, jobId, id);
		expect(existsSync(pathOfFile(folder, sha256))).toBe(false);
		// Taken out, its number is given to no other.
		expect(await addPhoto(db, folder, jobId, 'clamps', pixel)).toBeGreaterThan(id);
		await expect(addPhoto(db, folder, jobId, 'clamps', Buffer.from('<svg/>'))).rejects.toThrow('no photo');
		await expect(addPhoto(db, folder, jobId, 'paint', pixel)).rejects.toThrow('no such item');
	});
});
