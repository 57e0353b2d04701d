/** The customer's link: one job, until it is renewed, revoked or expired. */
import type { Db } from '$lib/server/db/open.ts';
import { seal, unseal } from '$lib/server/storage/encryption.ts';
import { hashOf, newToken } from '$lib/server/storage/tokens.ts';

const DAYS = 180;

const USE = 'customer link';

/**
 * A new link for a job; the ones before stop working.
 * @param dataDir the folder under whose key it is kept, so that a tuner can read it again
 */
export async function renewLink(db: Db, dataDir: string, jobId: number, now = new Date()): Promise<string> {
	const token = newToken();
	await db.transaction().execute(async (trx) => {
		await revokeLinks(trx, jobId, now);
		await trx
			.insertInto('links')
			.values({
				job_id: jobId,
				token_hash: hashOf(token),
				sealed: seal(dataDir, USE, token),
				created_at: now.toISOString(),
				expires_at: new Date(now.getTime() + DAYS * 86_400_000).toISOString()
			})
			.execute();
	});
	return token;
}

/** The job that a token opens now; `null` for a token that is wrong, revoked or expired. */
export async function jobOfToken(db: Db, token: string, now = new Date()): Promise<number | null> {
	const row = await db
		.selectFrom('links')
		.select('job_id')
		.where('token_hash', '=', hashOf(token))
		.where('revoked_at', 'is', null)
		.where('expires_at', '>', now.toISOString())
		.executeTakeFirst();
	return row?.job_id ?? null;
}

/** From now on the link of a job opens nothing. */
export async function revokeLinks(db: Db, jobId: number, now = new Date()): Promise<void> {
	await db
		.updateTable('links')
		.set({ revoked_at: now.toISOString() })
		.where('job_id', '=', jobId)
		.where('revoked_at', 'is', null)
		.execute();
}

/** Whether a link of a job works now. */
export async function hasLink(db: Db, jobId: number, now = new Date()): Promise<boolean> {
	const row = await db
		.selectFrom('links')
		.select('id')
		.where('job_id', '=', jobId)
		.where('revoked_at', 'is', null)
		.where('expires_at', '>', now.toISOString())
		.executeTakeFirst();
	return row !== undefined;
}

export interface Link {
	until: string;
	/** `null` for one from before links could be read again. */
	token: string | null;
}

/** The link of a job that works now; `null` when there is none. */
export async function linkOf(db: Db, dataDir: string, jobId: number, now = new Date()): Promise<Link | null> {
	const row = await db
		.selectFrom('links')
		.select(['expires_at', 'sealed'])
		.where('job_id', '=', jobId)
		.where('revoked_at', 'is', null)
		.where('expires_at', '>', now.toISOString())
		.executeTakeFirst();
	return row
		? { until: row.expires_at, token: row.sealed === null ? null : unseal(dataDir, USE, row.sealed) }
		: null;
}
