/** Logs in pieces: taken up where they broke, one job's pieces are nobody else's, what is said with them is checked before a byte is taken. */
import pino from 'pino';
import { readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { App } from '$lib/server/context.ts';
import { poolOf } from '$lib/server/testing/pool.ts';
import { openWorld, putJob, type World } from '$lib/server/testing/world.ts';
import { completeUploads, handleUpload } from './uploads.ts';
import { openFile } from '$lib/server/storage/files.ts';

let world: World;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db, {});
});
afterEach(() => world.close());

const app = (): App =>
	({
		db: world.db,
		dataDir: world.folder,
		logger: pino({ level: 'silent' }),
		pool: poolOf({ readLog: async () => ({ ok: false, message: 'not read here', seen: null }) })
	}) as unknown as App;
const PATH = '/api/v1/jobs/1/uploads';
const text = Buffer.from('Time (s),Engine Speed (rpm)\n0,1000\n0.1,1010\n');
const meta = (values: Record<string, string>) =>
	Object.entries(values)
		.map(([k, v]) => `${k} ${Buffer.from(v).toString('base64')}`)
		.join(',');

async function begin(values: Record<string, string>, length = text.length, job = jobId) {
	const response = await handleUpload(
		app(),
		new Request(`http://127.0.0.1${PATH}`, {
			method: 'POST',
			headers: { 'tus-resumable': '1.0.0', 'upload-length': String(length), 'upload-metadata': meta(values) }
		}),
		PATH,
		job,
		'customer'
	);
	return {
		status: response.status,
		location: response.headers.get('location') ?? '',
		body: await response.text()
	};
}
async function send(
	location: string,
	bytes: Buffer,
	offset: number,
	job = jobId,
	said: Record<string, string> | null = null
) {
	const response = await handleUpload(
		app(),
		new Request(new URL(location, 'http://127.0.0.1'), {
			method: 'PATCH',
			headers: {
				'tus-resumable': '1.0.0',
				'upload-offset': String(offset),
				'content-type': 'application/offset+octet-stream',
				...(said ? { 'upload-metadata': meta(said) } : {})
			},
			body: bytes as unknown as BodyInit
		}),
		PATH,
		job,
		'customer'
	);
	return {
		status: response.status,
		offset: Number(response.headers.get('upload-offset')),
		body: await response.text()
	};
}
const logs = () =>
	world.db.selectFrom('logs').select(['name', 'sha256', 'kind', 'words', 'sent_by']).execute();

describe('a log in pieces', () => {
	it('is taken up where it broke, and is a log with its bytes only when it is whole', async () => {
		const { status, location } = await begin({ name: 'evening.csv', words: 'rough at idle' });
		expect(status).toBe(201);
		expect((await send(location, text.subarray(0, 10), 0)).offset).toBe(10);
		expect(await logs()).toEqual([]);
		expect((await send(location, text.subarray(10), 10)).status).toBe(200);
		const [log] = await logs();
		expect(log).toMatchObject({ name: 'evening.csv', words: 'rough at idle', sent_by: 'customer' });
		const stored: Buffer[] = [];
		for await (const chunk of openFile(world.folder, log!.sha256)) stored.push(chunk as Buffer);
		expect(Buffer.concat(stored)).toEqual(text);
	});
	it('of another job isn’t there for anybody else', async () => {
		const other = await putJob(world.db, {});
		const { location } = await begin({ name: 'evening.csv' });
		expect((await send(location, text, 0, other)).status).toBe(404);
		expect(await logs()).toEqual([]);
	});
	it('with a piece at the wrong place is refused, and goes on from the right one', async () => {
		const { location } = await begin({ name: 'evening.csv' });
		await send(location, text.subarray(0, 10), 0);
		expect((await send(location, text.subarray(5), 5)).status).toBe(409);
		expect((await send(location, text.subarray(10), 10)).status).toBe(200);
		expect(await logs()).toHaveLength(1);
	});
	it('brings the words that stand when it is sent, not those it was begun with', async () => {
		const { location } = await begin({ name: 'evening.csv', words: 'rough at idle' });
		await send(location, text.subarray(0, 10), 0);
		const wrong = { name: 'evening.csv', kind: 'gossip' };
		expect((await send(location, text.subarray(10), 10, jobId, wrong)).status).toBe(400);
		const now = { name: 'evening.csv', words: 'rough at idle, and it stalled', kind: 'problem' };
		expect((await send(location, text.subarray(10), 10, jobId, now)).status).toBe(200);
		expect(await logs()).toMatchObject([{ words: 'rough at idle, and it stalled', kind: 'problem' }]);
		const foreign = await begin({ name: 'other.csv' }, 5);
		const other = await putJob(world.db, {});
		expect((await send(foreign.location, Buffer.from('1'), 0, other, now)).status).toBe(404);
	});
	it('of which the same comes twice at the same moment is one log', async () => {
		const [a, b] = [await begin({ name: 'a.csv' }), await begin({ name: 'b.csv' })];
		const both = await Promise.all([send(a.location, text, 0), send(b.location, text, 0)]);
		expect(both.map((r) => r.status)).toEqual([200, 200]);
		expect(await logs()).toHaveLength(1);
	});
	it('of which fifty come at once are all taken', async () => {
		const begun = [];
		for (let i = 0; i < 50; i++) begun.push(await begin({ name: `${i}.csv` }, 3_000_000 + i));
		expect(begun.every((r) => r.status === 201)).toBe(true);
	});
	it('the same bytes twice are one log', async () => {
		for (const name of ['a.csv', 'b.csv']) await send((await begin({ name })).location, text, 0);
		expect((await logs()).map((l) => l.name)).toEqual(['a.csv']);
	});
});

describe('what is said with it', () => {
	it.each([
		['a kind that is none', { kind: 'gossip' }],
		['answers that are cut off', { answers: '{"fuel":' }],
		['answers that are a list', { answers: '["a"]' }],
		['a layout in words', { layout: 'columns' }],
		['a moment before the log', { momentS: '-5' }],
		['a revision in words', { revision: 'newest' }],
		['words without end', { words: 'x'.repeat(4001) }]
	])('%s: refused before a byte is taken', async (_, values) => {
		const { status, body } = await begin({ name: 'evening.csv', ...(values as Record<string, string>) });
		expect(status).toBe(400);
		expect(body).toContain('could not be read');
		expect(await logs()).toEqual([]);
	});
});

describe('a stop between the last byte and the log', () => {
	it('between the move of its file and its row: the same', async () => {
		const { location } = await begin({ name: 'late.csv' });
		// The row can't be written: what arrived is still there, and becomes its log when it can.
		const insert = vi.spyOn(world.db, 'transaction').mockImplementation(() => {
			throw new Error('database is locked');
		});
		expect((await send(location, text, 0)).status).toBe(500);
		insert.mockRestore();
		expect(await logs()).toEqual([]);
		await completeUploads(app());
		expect(await logs()).toMatchObject([{ name: 'late.csv' }]);
		expect(readdirSync(join(world.folder, 'uploads'))).toEqual([]);
	});
	it('loses nothing: what had arrived becomes a log at the next start, once', async () => {
		const { location } = await begin({ name: 'late.csv.gz' }, gzipSync(text).length);
		// All bytes are on disk, and the server ended before the log was made: the pieces are written as the store writes them.
		const id = location.split('/').at(-1)!;
		writeFileSync(join(world.folder, 'uploads', id), gzipSync(text));
		await completeUploads(app());
		await completeUploads(app());
		expect((await logs()).map((l) => l.name)).toEqual(['late.csv.gz']);
	});
});

it('a folder that cannot be made refuses the upload, and the server goes on', async () => {
	writeFileSync(join(world.folder, 'uploads'), 'a file in its way');
	await expect(begin({ name: 'a.csv' })).rejects.toThrow(/EEXIST|ENOTDIR/);
	rmSync(join(world.folder, 'uploads'));
	expect((await begin({ name: 'a.csv' })).status).toBe(201);
});
