/** A customer leaves: one archive with everything, and nothing of theirs is left; nothing of others is touched. */
import { existsSync, readdirSync, readFileSync, readlinkSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Upload } from '@tus/server';
import type { ReadableStream } from 'node:stream/web';
import { unzipSync } from 'fflate';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { attach } from '$lib/server/revisions/attachments.ts';
import { arrived, pathOfFile, receive } from '$lib/server/storage/files.ts';
import { exportArchive } from '$lib/server/archive/export.ts';
import { deleteCustomer, leavingOf } from './erase.ts';
import { renewLink } from '$lib/server/jobs/links.ts';
import { fromCustomer } from '$lib/server/jobs/messages.ts';
import { revision } from '$lib/server/revisions/revisions.ts';
import {
	draftWith,
	openWorld,
	putJob,
	putLog,
	putScreening,
	releaseAll,
	type World
} from '$lib/server/testing/world.ts';

let world: World;
let app: { db: World['db']; dataDir: string };
beforeEach(async () => {
	world = await openWorld();
	app = { db: world.db, dataDir: world.folder };
});
afterEach(() => world.close());

const bytes = (text: string) => new Response(text).body! as ReadableStream<Uint8Array>;

const sizes = async () =>
	Object.fromEntries(
		await Promise.all(
			(
				[
					'customers',
					'vehicles',
					'jobs',
					'revisions',
					'logs',
					'messages',
					'attachments',
					'links',
					'screenings',
					'timeline'
				] as const
			).map(async (t) => [t, (await world.db.selectFrom(t).selectAll().execute()).length] as const)
		)
	);

/** A job with a log, a closed file, a message, a release, a link. */
async function fullJob(customer: string, log: string) {
	const job = await putJob(world.db, { customer, title: `of ${customer}` });
	const file = await receive(world.folder, bytes(log), 1000);
	arrived(file);
	const id = await putLog(world.db, job);
	await world.db
		.updateTable('logs')
		.set({ sha256: file.sha256, bytes: file.bytes, name: 'pull.csv' })
		.where('id', '=', id)
		.execute();
	await putScreening(world.db, id, [{ severity: 'watch', title: 'w' }]);
	await fromCustomer(world.db, job, customer, 'hello', id);
	const draft = await draftWith(world.db, job);
	const closed = await receive(world.folder, bytes(`closed of ${customer}`), 1000);
	await attach(world.db, (await revision(world.db, draft.id))!, closed, {
		name: 'a.bin',
		hardware: 'H',
		software: '1',
		author: 'Ann'
	});
	arrived(closed);
	await releaseAll(world.db, draft);
	await renewLink(world.db, world.folder, job);
	return { job, file, closed };
}

describe('a customer who leaves', () => {
	it('takes a record, the logs byte for byte and the closed files along', async () => {
		const { job } = await fullJob('Ines', 'time,rpm\n0,900\n');
		expect(await leavingOf(world.db, 1)).toEqual({ jobs: 1, logs: 1, revisions: 2, photos: 0, messages: 1 });
		const zip = unzipSync(
			new Uint8Array(await new Response(await exportArchive(app, { of: 'customer', id: 1 })).arrayBuffer())
		);
		const text = (name: string) => new TextDecoder().decode(zip[name]);
		expect(Object.keys(zip).sort()).toEqual([
			`job-${job}/files/1-a.bin`,
			`job-${job}/logs/1-pull.csv`,
			'missing.txt',
			'record.json'
		]);
		expect(text('missing.txt')).toBe('');
		expect(text(`job-${job}/logs/1-pull.csv`)).toBe('time,rpm\n0,900\n');
		expect(text(`job-${job}/files/1-a.bin`)).toBe('closed of Ines');
		const record = JSON.parse(text('record.json')) as Record<string, { name?: string; body?: string }[]>;
		expect(record['customer']).toMatchObject({ name: 'Ines' });
		expect(record['revisions']).toHaveLength(2);
		expect(record['messages']![0]!.body).toBe('hello');
		// All that hangs on a customer by a foreign key, but what opens a door and what is worked out from the rest.
		expect(Object.keys(record)).toEqual(
			expect.arrayContaining([
				'revision_events',
				'hold_answers',
				'finding_answers',
				'table_proofs',
				'knock_proof_steps',
				'mails',
				'assignments',
				'layouts',
				'attachments',
				'photos'
			])
		);
		expect(record['hold_answers']).not.toHaveLength(0);
		expect(Object.keys(record['links']![0]!)).not.toContain('token_hash');
		expect(Object.keys(record['links']![0]!)).not.toContain('sealed');
		expect(record['log_blocks']).toBeUndefined();
	});
	it('whose file is missing on the disk gets all the others, and its name', async () => {
		const { job, file } = await fullJob('Ines', 'time,rpm\n0,900\n');
		rmSync(pathOfFile(world.folder, file.sha256));
		const zip = unzipSync(
			new Uint8Array(await new Response(await exportArchive(app, { of: 'customer', id: 1 })).arrayBuffer())
		);
		expect(new TextDecoder().decode(zip['missing.txt'])).toContain(`job-${job}/logs/1-pull.csv`);
		expect(new TextDecoder().decode(zip[`job-${job}/files/1-a.bin`])).toBe('closed of Ines');
	});
	it('whose archive is broken off leaves no file open', async () => {
		await fullJob('Ines', 'x'.repeat(900));
		const open = () =>
			readdirSync('/proc/self/fd')
				.flatMap((fd) => {
					try {
						return [readlinkSync(`/proc/self/fd/${fd}`)];
					} catch {
						return [];
					}
				})
				.filter((path) => path.startsWith(join(world.folder, 'files')));
		for (let i = 0; i < 20; i++) {
			const reader = (await exportArchive(app, { of: 'customer', id: 1 })).getReader();
			await reader.read();
			await reader.cancel();
		}
		await vi.waitFor(() => expect(open()).toEqual([]));
	});
	it('is asked by name, and leaves nothing behind; what another has as well stays', async () => {
		const other = await fullJob('Jon', 'time,rpm\n0,800\n');
		const before = await sizes();
		const own = await fullJob('Ines', 'time,rpm\n0,800\n');
		await expect(deleteCustomer(app, 2, 'Jon')).rejects.toThrow(
			"type the customer's name as it stands here: Ines"
		);
		await deleteCustomer(app, 2, ' Ines ');
		expect(await sizes()).toEqual(before);
		expect(existsSync(pathOfFile(world.folder, own.closed.sha256))).toBe(false);
		expect(existsSync(pathOfFile(world.folder, own.file.sha256))).toBe(true);
		expect(existsSync(pathOfFile(world.folder, other.closed.sha256))).toBe(true);
		await expect(deleteCustomer(app, 2, 'Ines')).rejects.toThrow('no such customer');
	});
	it('is in no page of the database and in no piece on its way any more', async () => {
		const { job } = await fullJob('Ines Quillfeather', 'time,rpm\n0,800\n');
		const store = new FileStore({ directory: join(world.folder, 'uploads') });
		await vi.waitFor(() => expect(existsSync(join(world.folder, 'uploads'))).toBe(true));
		await store.create(
			new Upload({ id: 'half', size: 10, offset: 0, metadata: { owner: `customer ${job}`, name: 'q.csv' } })
		);
		await store.create(
			new Upload({ id: 'other', size: 10, offset: 0, metadata: { owner: `customer ${job + 1}` } })
		);
		await deleteCustomer(app, 1, 'Ines Quillfeather');
		for (const file of readdirSync(world.folder).filter((f) => f.startsWith('tanto.sqlite')))
			expect(readFileSync(join(world.folder, file)).includes('Quillfeather'), file).toBe(false);
		expect(readdirSync(join(world.folder, 'uploads')).sort()).toEqual(['other', 'other.json']);
	});
});

it('the ids of a customer who left, their vehicle and their job are given to no other: a stale tab names nobody', async () => {
	const ids = async (customer: string) => {
		const job = await putJob(world.db, { customer });
		const row = await world.db
			.selectFrom('jobs')
			.select(['id', 'customer_id', 'vehicle_id'])
			.where('id', '=', job)
			.executeTakeFirstOrThrow();
		return [row.id, row.customer_id, row.vehicle_id];
	};
	const gone = await ids('Ada Wren');
	await deleteCustomer(app, gone[1]!, 'Ada Wren');
	const next = await ids('Pell Marrow');
	next.forEach((id, i) => expect(id).toBeGreaterThan(gone[i]!));
});
