/** The customer's link: an unguessable token of 256 bits, of which only the hash is kept. */
import { createHash, randomBytes } from 'node:crypto';
import type { Db } from './db/open.ts';

const DAYS = 180;

function hashOf(token: string): string {
	return createHash('sha256').update(token).digest('hex');
}

/** A new link for a job; the ones before stop working. The token is shown once and can't be looked up again. */
export async function renewLink(db: Db, jobId: number, now = new Date()): Promise<string> {
	const token = randomBytes(32).toString('base64url');
	await db.transaction().execute(async (trx) => {
		await trx
			.updateTable('links')
			.set({ revoked_at: now.toISOString() })
			.where('job_id', '=', jobId)
			.where('revoked_at', 'is', null)
			.execute();
		await trx
			.insertInto('links')
			.values({
				job_id: jobId,
				token_hash: hashOf(token),
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
