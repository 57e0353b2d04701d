/** What no row names is taken away after an hour; what a row names or is about to stays. */
import { existsSync, readdirSync } from 'node:fs';
import { mkdir, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { ReadableStream } from 'node:stream/web';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { arrived, pathOfFile, receive } from '$lib/server/storage/files.ts';
import { openWorld, putJob, putLog, type World } from '$lib/server/testing/world.ts';
import { sweep } from './sweep.ts';

let world: World;
beforeEach(async () => {
	world = await openWorld();
});
afterEach(() => world.close());

const LATER = Date.now() + 2 * 3_600_000;
const take = (text: string) =>
	receive(world.folder, new Response(text).body! as ReadableStream<Uint8Array>, 1000);

describe('the sweep', () => {
	it('takes files that no row names, compressed ones too, and counts them', async () => {
		const lost = await take('lost');
		arrived(lost);
		const kept = await take('kept');
		arrived(kept);
		const id = await putLog(world.db, await putJob(world.db, {}));
		await world.db.updateTable('logs').set({ sha256: kept.sha256 }).where('id', '=', id).execute();
		const packed = `${pathOfFile(world.folder, 'ab'.repeat(32))}.gz`;
		await mkdir(join(packed, '..'), { recursive: true });
		await writeFile(packed, 'gz');
		await utimes(packed, 0, 0);
		expect(await sweep(world.db, world.folder)).toEqual({ files: 0, bytes: 0, uploads: 0 });
		expect(await sweep(world.db, world.folder, LATER)).toEqual({ files: 2, bytes: 6, uploads: 0 });
		expect(existsSync(pathOfFile(world.folder, lost.sha256))).toBe(false);
		expect(existsSync(pathOfFile(world.folder, kept.sha256))).toBe(true);
	});
	it('leaves what arrived and waits for its row', async () => {
		const { sha256 } = await take('arriving');
		expect((await sweep(world.db, world.folder, LATER)).files).toBe(0);
		expect(existsSync(pathOfFile(world.folder, sha256))).toBe(true);
	});
	it('takes pieces on their way to a job that is gone', async () => {
		const uploads = join(world.folder, 'uploads');
		const job = await putJob(world.db, {});
		await mkdir(uploads, { recursive: true });
		for (const [id, owner] of [
			['a', `customer ${job}`],
			['b', 'customer 99'],
			['c', 'nobody']
		] as const) {
			await writeFile(join(uploads, id), 'x');
			await writeFile(
				join(uploads, `${id}.json`),
				JSON.stringify({ id, size: 9, offset: 0, metadata: { owner } })
			);
		}
		expect((await sweep(world.db, world.folder)).uploads).toBe(2);
		expect(readdirSync(uploads).sort()).toEqual(['a', 'a.json']);
	});
});
