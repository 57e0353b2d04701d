/** A job goes out as one archive and into another Tanto, whole; what isn't whole leaves nothing behind. */
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { ReadableStream } from 'node:stream/web';
import fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { InputError } from '$core/input-error.ts';
import { find } from '$lib/server/jobs/customers.ts';
import { settled } from '$lib/server/use-cases/screen.ts';
import { keepMaxima } from '$lib/server/jobs/maxima.ts';
import { fromCustomer } from '$lib/server/jobs/messages.ts';
import { renewLink } from '$lib/server/jobs/links.ts';
import { timelineOf } from '$lib/server/jobs/timeline.ts';
import { currentRevision, revision } from '$lib/server/revisions/revisions.ts';
import { attach } from '$lib/server/revisions/attachments.ts';
import { arrived, pathOfFile, receive, textBody } from '$lib/server/storage/files.ts';
import { comparable } from '$lib/server/testing/same-record.ts';
import {
	draftWith,
	openWorld,
	putJob,
	putLog,
	putScreening,
	releaseAll,
	unread,
	type World
} from '$lib/server/testing/world.ts';
import { exportArchive } from './export.ts';
import { importArchive } from './import.ts';
import { readWhole } from './readable.ts';
import type { ArchiveRecord } from './open.ts';

let here: World;
let there: World;
beforeEach(async () => {
	[here, there] = [await openWorld(), await openWorld()];
	// Other ids than here.
	await putJob(there.db, { customer: 'somebody else', title: 'before it' });
});
afterEach(async () => {
	await here.close();
	await there.close();
});

/** A job with a log, a reading of maxima, a message, a closed file, a release and a link. */
async function fullJob(): Promise<number> {
	const job = await putJob(here.db, { customer: 'Ines', title: 'all of it' });
	const file = await receive(here.folder, textBody('time,rpm\n0,900\n'), 1000);
	const log = await putLog(here.db, job, { sha256: file.sha256, name: 'pull.csv' });
	arrived(file);
	await putScreening(here.db, log, [{ severity: 'watch', title: 'w' }]);
	await fromCustomer(here.db, job, 'Ines', 'hello', log);
	await keepMaxima(here.db, job, (await currentRevision(here.db, job)).id, 'Ann', {
		schema: 'tanto.maxima/1',
		source: 'the gauge',
		since: null,
		values: { duty: 60 }
	});
	const draft = await draftWith(here.db, job);
	await here.db
		.updateTable('revisions')
		.set({ proposal_logs: JSON.stringify([log]) })
		.where('id', '=', draft.id)
		.execute();
	const closed = await receive(here.folder, textBody('closed'), 1000);
	await attach(here.db, (await revision(here.db, draft.id))!, closed, {
		name: 'a.bin',
		hardware: 'H',
		software: '1',
		author: 'Ann'
	});
	arrived(closed);
	await releaseAll(here.db, (await revision(here.db, draft.id))!);
	await renewLink(here.db, here.folder, job);
	return job;
}
const app = ({ db, folder }: World) => ({ db, dataDir: folder });
const archiveOf = async (world: World, job: number) =>
	new Uint8Array(
		await new Response((await exportArchive(app(world), { of: 'job', id: job })) as never).arrayBuffer()
	);
const body = (bytes: Uint8Array) =>
	new Blob([bytes as never]).stream() as unknown as ReadableStream<Uint8Array>;
const recordIn = (zip: Uint8Array) => JSON.parse(strFromU8(unzipSync(zip)['record.json']!)) as ArchiveRecord;
const take = (bytes: Uint8Array) => importArchive(unread(there), body(bytes));
/** The same archive with something of it changed. */
function changed(
	zip: Uint8Array,
	change: (files: Record<string, Uint8Array>, record: ArchiveRecord) => void
): Uint8Array {
	const files = unzipSync(zip);
	const record = JSON.parse(strFromU8(files['record.json']!)) as ArchiveRecord;
	change(files, record);
	if (files['record.json']) files['record.json'] = strToU8(JSON.stringify(record));
	return zipSync(files);
}

describe('a job as an archive', () => {
	it('is the same job elsewhere, under other ids, with its files and in its order', async () => {
		const job = await fullJob();
		const zip = await archiveOf(here, job);
		const id = await take(zip);
		expect(id).not.toBe(job);
		const again = recordIn(await archiveOf(there, id));
		expect(await comparable(there.db, again)).toEqual(await comparable(here.db, recordIn(zip)));
		expect((await timelineOf(there.db, id)).map((e) => e.label)).toEqual(
			(await timelineOf(here.db, job)).map((e) => e.label)
		);
		for (const { sha256 } of again.files) expect(existsSync(pathOfFile(there.folder, sha256))).toBe(true);
		// Its log waits to be read here; no door of the other Tanto opens anything.
		expect(await there.db.selectFrom('logs').select('state').where('job_id', '=', id).execute()).toEqual([
			{ state: 'received' }
		]);
		expect(await there.db.selectFrom('links').selectAll().execute()).toEqual([]);
	});
	it('of a customer who is known here is theirs, and is taken in once', async () => {
		const zip = await archiveOf(here, await fullJob());
		const known = await putJob(there.db, { customer: 'Ines', title: 'another' });
		const id = await take(zip);
		const owners = await there.db
			.selectFrom('jobs')
			.select('customer_id')
			.where('id', 'in', [known, id])
			.execute();
		expect(new Set(owners.map((o) => o.customer_id)).size).toBe(1);
		await expect(take(zip)).rejects.toThrow(`here already, as number ${id}`);
	});
	const refused: [string, (files: Record<string, Uint8Array>, record: ArchiveRecord) => void, string][] = [
		['without its record', (files) => delete files['record.json'], 'no record.json'],
		[
			'that is another document',
			(_, r) => Object.assign(r, { schema: 'tanto.customer-record/1' }),
			'no archive of a job'
		],
		[
			'with another log than its record names',
			(files) => (files[Object.keys(files).find((n) => n.includes('/logs/'))!] = strToU8('time,rpm\n0,1\n')),
			'another file'
		],
		[
			'that lacks a file',
			(files) => delete files[Object.keys(files).find((n) => n.includes('/logs/'))!],
			'lacks'
		],
		[
			'that names a file of somebody else',
			(_, r) => (r.files = r.files.filter((f) => !f.path.includes('/logs/'))),
			'isn’t in the archive'.replace('’', "'")
		],
		[
			'with a changed calibration',
			(_, r) =>
				(r.tables['revisions']![0]!['document'] = String(r.tables['revisions']![0]!['document']).replace(
					'85',
					'86'
				)),
			'another hash'
		],
		[
			'with a calibration that is none',
			(_, r) => (r.tables['revisions']![0]!['document'] = '{"schema":"x"}'),
			'revisions, row'
		],
		['of a newer Tanto', (_, r) => (r.tables['wishes'] = [{ id: 1 }]), 'newer'],
		['with a column that nobody knows', (_, r) => (r.tables['messages']![0]!['mood'] = 'good'), 'newer'],
		['that lacks what must be there', (_, r) => delete r.tables['messages']![0]!['author'], 'messages, row'],
		['of practice', (_, r) => (r.tables['customers']![0]!['practice'] = 1), 'practice']
	];
	it.each(refused)('%s is refused, and nothing of it is left', async (_, change, words) => {
		const zip = changed(await archiveOf(here, await fullJob()), change);
		await expect(take(zip)).rejects.toThrow(words);
		expect(await there.db.selectFrom('jobs').select('title').execute()).toEqual([{ title: 'before it' }]);
		expect(await there.db.selectFrom('logs').selectAll().execute()).toEqual([]);
		const kept = existsSync(join(there.folder, 'files'))
			? readdirSync(join(there.folder, 'files'), { recursive: true, withFileTypes: true })
			: [];
		expect(kept.filter((f) => f.isFile()).map((f) => f.name)).toEqual([]);
	});
	it('with anything else in any of its rows is refused in words, or can be read by every page', async () => {
		const zip = await archiveOf(here, await fullJob());
		const { tables } = recordIn(zip);
		const places = Object.entries(tables).flatMap(([table, rows]) =>
			rows.flatMap((row, n) => Object.keys(row).map((column) => ({ table, n, column })))
		);
		const odd = [
			null,
			-1,
			0,
			1e308,
			0.5,
			'',
			'x',
			'{',
			'[]',
			'{}',
			'null',
			'[null]',
			'{"a":1}',
			'2026-13-99',
			'𝕏'.repeat(3000)
		];
		let taken = 0;
		await fc.assert(
			fc.asyncProperty(
				fc.constantFrom(...places),
				fc.constantFrom(...odd),
				async ({ table, n, column }, value) => {
					const target = await openWorld();
					try {
						const bytes = changed(zip, (_, r) => void (r.tables[table]![n]![column] = value));
						const id = await importArchive(unread(target), body(bytes)).catch((e: unknown) => {
							expect(e, `${table}.${column}`).toBeInstanceOf(InputError);
							return null;
						});
						if (id === null) expect(await target.db.selectFrom('jobs').selectAll().execute()).toEqual([]);
						else {
							taken++;
							await settled();
							await readWhole(target.db, id);
							await find(target.db, 'all');
						}
					} finally {
						await target.close();
					}
				}
			),
			{ numRuns: 150, seed: 7 }
		);
		// Neither is everything refused: most texts may be any text.
		expect(taken).toBeGreaterThan(10);
	});
	it('that was cut off is refused', async () => {
		const zip = await archiveOf(here, await fullJob());
		await expect(take(zip.slice(0, zip.length - 60))).rejects.toThrow('no whole ZIP archive');
		await expect(take(strToU8('PK or not'))).rejects.toThrow('no whole ZIP archive');
	});
});
