/** A customer who leaves goes out of this folder with everything of theirs. */
import { sql } from 'kysely';
import { InputError } from '$core/input-error.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import { dropFile } from '$lib/server/storage/stored-files.ts';
import { TIMELINE_TABLES } from '$lib/server/jobs/timeline-event.ts';
import { dropUploadsOf } from '$lib/server/use-cases/uploads.ts';
import { belongings, within } from '$lib/server/archive/belongings.ts';
import { recordOf } from '$lib/server/archive/record.ts';

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
	const all = await belongings(db);
	const count = async (table: keyof Leaving) => {
		const { rows } = await sql<{
			n: number;
		}>`select count(*) as n from ${sql.table(table)} where ${within(all, table, { of: 'customer', id: customerId })}`.execute(
			db
		);
		return Number(rows[0]!.n);
	};
	return {
		jobs: await count('jobs'),
		logs: await count('logs'),
		revisions: await count('revisions'),
		photos: await count('photos'),
		messages: await count('messages')
	};
}

/**
 * Takes a customer out of the folder with every job, log, revision, message and file of theirs, what is on its way included. What a stop in between
 * leaves of files, the sweep takes.
 * @param typed the customer's name, typed by who wants this
 * @throws InputError where there is none, or another name was typed
 */
export async function deleteCustomer(
	{ db, dataDir }: Pick<App, 'db' | 'dataDir'>,
	customerId: number,
	typed: string
): Promise<void> {
	const customer = await db
		.selectFrom('customers')
		.select(['name', 'email'])
		.where('id', '=', customerId)
		.executeTakeFirst();
	if (!customer) throw new InputError('there is no such customer any more');
	if (typed.trim() !== customer.name.trim())
		throw new InputError(`type the customer's name as it stands here: ${customer.name}`);
	const { files } = await recordOf(db, { of: 'customer', id: customerId });
	const ids = await jobIdsOf(db, customerId);
	const all = await belongings(db);
	await db.transaction().execute(async (trx) => {
		if (ids.length)
			await trx
				.insertInto('leaving')
				.values(ids.map((job_id) => ({ job_id })))
				.execute();
		for (const { table } of [...all].reverse())
			await sql`delete from ${sql.table(table)} where ${within(all, table, { of: 'customer', id: customerId })}`.execute(
				trx
			);
		for (const [kind, table] of Object.entries(TIMELINE_TABLES))
			await sql`delete from timeline where kind = ${kind} and ref not in (select id from ${sql.table(table)})`.execute(
				trx
			);
		if (customer.email)
			await trx.deleteFrom('caught_mails').where('to_address', '=', customer.email).execute();
		await trx.deleteFrom('leaving').execute();
	});
	await dropUploadsOf(dataDir, ids);
	for (const f of files) await dropFile(db, dataDir, f.sha256);
	// The pages that were freed are overwritten (secure_delete); what the write-ahead log still holds of them goes with it.
	await sql`pragma wal_checkpoint(truncate)`.execute(db);
}
