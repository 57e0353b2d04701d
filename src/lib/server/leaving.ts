/** A customer who leaves: everything of theirs as one archive, and then out of this folder. */
import { Readable } from 'node:stream';
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { InputError } from '../../core/input-error.ts';
import type { App } from './context.ts';
import type { Db } from './db/open.ts';
import { openFile, safeName } from './files.ts';
import { dropFile } from './stored-files.ts';

const JOB_TABLES = [
	'revisions',
	'logs',
	'requests',
	'messages',
	'timeslips',
	'hardware_changes',
	'swap_tests',
	'plug_readings',
	'stage_calls',
	'fills',
	'typed_readings',
	'finding_answers',
	'inspection',
	'photos',
	'knock_proofs'
] as const;

export interface Leaving {
	jobs: number;
	logs: number;
	revisions: number;
	photos: number;
	messages: number;
}

const jobIdsOf = async (db: Db, customerId: number): Promise<number[]> =>
	(await db.selectFrom('jobs').select('id').where('customer_id', '=', customerId).execute()).map((j) => j.id);

/** What would go. */
export async function leavingOf(db: Db, customerId: number): Promise<Leaving> {
	const jobs = await jobIdsOf(db, customerId);
	const count = async (table: 'logs' | 'revisions' | 'photos' | 'messages') =>
		jobs.length === 0
			? 0
			: Number(
					(
						await db
							.selectFrom(table)
							.select(({ fn }) => fn.countAll().as('n'))
							.where('job_id', 'in', jobs)
							.executeTakeFirstOrThrow()
					).n
				);
	return {
		jobs: jobs.length,
		logs: await count('logs'),
		revisions: await count('revisions'),
		photos: await count('photos'),
		messages: await count('messages')
	};
}

interface StoredName {
	path: string;
	sha256: string;
}

/** Rows of a customer as they stand, and the files that belong to them. */
async function recordOf(db: Db, customerId: number): Promise<{ record: object; files: StoredName[] }> {
	const jobs = await db.selectFrom('jobs').selectAll().where('customer_id', '=', customerId).execute();
	const ids = jobs.map((j) => j.id);
	const record: Record<string, unknown> = {
		schema: 'tanto.customer-record/1',
		customer: await db.selectFrom('customers').selectAll().where('id', '=', customerId).executeTakeFirst(),
		vehicles: await db.selectFrom('vehicles').selectAll().where('customer_id', '=', customerId).execute(),
		jobs
	};
	const files: StoredName[] = [];
	if (ids.length === 0) return { record, files };
	for (const table of JOB_TABLES)
		record[table] = await db.selectFrom(table).selectAll().where('job_id', 'in', ids).execute();
	const attachments = await db
		.selectFrom('attachments')
		.innerJoin('revisions', 'revisions.id', 'attachments.revision_id')
		.selectAll('attachments')
		.select('revisions.job_id')
		.where('revisions.job_id', 'in', ids)
		.execute();
	record['attachments'] = attachments;
	record['screenings'] = await db
		.selectFrom('screenings')
		.innerJoin('logs', 'logs.id', 'screenings.log_id')
		.select([
			'screenings.id',
			'screenings.log_id',
			'screenings.version',
			'screenings.report',
			'screenings.created_at'
		])
		.where('logs.job_id', 'in', ids)
		.execute();
	const named = (kind: string, job: number, id: number, name: string, sha256: string) =>
		files.push({ path: `job-${job}/${kind}/${id}-${safeName(name)}`, sha256 });
	for (const l of record['logs'] as { id: number; job_id: number; name: string; sha256: string }[])
		named('logs', l.job_id, l.id, l.name, l.sha256);
	for (const p of record['photos'] as { id: number; job_id: number; sha256: string }[])
		named('photos', p.job_id, p.id, 'photo.jpg', p.sha256);
	for (const a of attachments) named('files', a.job_id, a.id, a.name, a.sha256);
	return { record, files };
}

/** All of a customer as a ZIP, made as fast as it is taken away: record.json, the logs as they were received, photos, closed files. */
export async function exportCustomer(
	{ db, dataDir }: Pick<App, 'db' | 'dataDir'>,
	customerId: number
): Promise<ReadableStream<Uint8Array>> {
	const { record, files } = await recordOf(db, customerId);
	async function* zipped(): AsyncGenerator<Uint8Array> {
		let made: Uint8Array[] = [];
		const zip = new Zip((error, chunk) => {
			if (error) throw error;
			made.push(chunk);
		});
		// Nothing more is read from the disk until what was made is taken: years of logs are larger than the memory.
		function* taken() {
			const out = made;
			made = [];
			yield* out;
		}
		const text = new ZipDeflate('record.json', { level: 6 });
		zip.add(text);
		text.push(new TextEncoder().encode(JSON.stringify(record, null, '\t')), true);
		yield* taken();
		for (const f of files) {
			const entry = new ZipPassThrough(f.path);
			zip.add(entry);
			for await (const chunk of openFile(dataDir, f.sha256) as AsyncIterable<Uint8Array>) {
				entry.push(chunk);
				yield* taken();
			}
			entry.push(new Uint8Array(0), true);
			yield* taken();
		}
		zip.end();
		yield* taken();
	}
	return Readable.toWeb(Readable.from(zipped())) as ReadableStream<Uint8Array>;
}

/**
 * Takes a customer out of the folder with every job, log, revision, message and file of theirs.
 * @param typed the customer's name, typed by who wants this
 */
export async function deleteCustomer(
	{ db, dataDir }: Pick<App, 'db' | 'dataDir'>,
	customerId: number,
	typed: string
): Promise<void> {
	const customer = await db
		.selectFrom('customers')
		.select('name')
		.where('id', '=', customerId)
		.executeTakeFirst();
	if (!customer) throw new InputError('there is no such customer any more');
	if (typed.trim() !== customer.name.trim())
		throw new InputError(`type the customer's name as it stands here: ${customer.name}`);
	const { files } = await recordOf(db, customerId);
	const ids = await jobIdsOf(db, customerId);
	await db.transaction().execute(async (trx) => {
		if (ids.length) {
			await trx
				.insertInto('leaving')
				.values(ids.map((job_id) => ({ job_id })))
				.execute();
			for (const [kind, table] of [
				['revision', 'revisions'],
				['log', 'logs'],
				['message', 'messages'],
				['plan', 'requests'],
				['hardware', 'hardware_changes'],
				['swap', 'swap_tests'],
				['plugs', 'plug_readings'],
				['stage', 'stage_calls'],
				['fill', 'fills']
			] as const)
				await trx
					.deleteFrom('timeline')
					.where('kind', '=', kind)
					.where('ref', 'in', trx.selectFrom(table).select('id').where('job_id', 'in', ids))
					.execute();
			await trx
				.deleteFrom('timeline')
				.where('kind', '=', 'screening')
				.where(
					'ref',
					'in',
					trx
						.selectFrom('screenings')
						.innerJoin('logs', 'logs.id', 'screenings.log_id')
						.select('screenings.id')
						.where('logs.job_id', 'in', ids)
				)
				.execute();
			await trx.deleteFrom('timeline').where('kind', '=', 'waiting').where('ref', 'in', ids).execute();
			// Those that hang on others first; the rest goes with its job.
			for (const table of [
				'messages',
				'timeslips',
				'hardware_changes',
				'swap_tests',
				'plug_readings',
				'stage_calls',
				'fills',
				'typed_readings',
				'links',
				'finding_answers',
				'knock_proofs',
				'logs',
				'requests',
				'revisions'
			] as const)
				await trx.deleteFrom(table).where('job_id', 'in', ids).execute();
			await trx.deleteFrom('jobs').where('id', 'in', ids).execute();
			await trx.deleteFrom('leaving').execute();
		}
		await trx.deleteFrom('vehicles').where('customer_id', '=', customerId).execute();
		await trx.deleteFrom('customers').where('id', '=', customerId).execute();
	});
	for (const f of files) await dropFile(db, dataDir, f.sha256);
}
