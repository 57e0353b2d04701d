/** Invitations: further tuners come in by a link that works once. */
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import { InputError } from '$core/input-error.ts';
import { hashOf, newToken } from '$lib/server/storage/tokens.ts';
import { createTuner, type Auth } from './accounts.ts';

const DAYS = 7;

export async function invite(
	db: Db,
	email: string,
	by: string,
	role: 'tuner' | 'apprentice' = 'tuner',
	now = new Date()
): Promise<string> {
	const taken = await db.selectFrom('user').select('id').where('email', '=', email).executeTakeFirst();
	if (taken) throw new InputError('somebody with this address has an account already', 'Mail address');
	const token = newToken();
	// One open invitation an address: a second one would outlive the removal of who came by the first.
	await db.deleteFrom('invitations').where('email', '=', email).where('used_at', 'is', null).execute();
	await db
		.insertInto('invitations')
		.values({
			id: await nextId(db, 'invitations'),
			email,
			token_hash: hashOf(token),
			role,
			invited_by: by,
			created_at: now.toISOString(),
			expires_at: new Date(now.getTime() + DAYS * 86_400_000).toISOString()
		})
		.execute();
	return token;
}

/** The open invitation behind a token; `null` when it is wrong, used or expired. */
export async function invitationOf(
	db: Db,
	token: string,
	now = new Date()
): Promise<{ id: number; email: string; role: 'tuner' | 'apprentice' } | null> {
	const row = await db
		.selectFrom('invitations')
		.select(['id', 'email', 'role'])
		.where('token_hash', '=', hashOf(token))
		.where('used_at', 'is', null)
		.where('expires_at', '>', now.toISOString())
		.executeTakeFirst();
	return row ?? null;
}

/** Takes an invitation up: the account is made with the address that was invited, and the link is used up. */
export async function accept(
	db: Db,
	auth: Auth,
	token: string,
	name: string,
	password: string,
	now = new Date()
): Promise<string> {
	const invitation = await invitationOf(db, token, now);
	if (!invitation) throw new InputError('this invitation does not work any more; ask for a new one');
	// Used up first: two presses of the button make one account.
	const { numUpdatedRows } = await db
		.updateTable('invitations')
		.set({ used_at: now.toISOString() })
		.where('id', '=', invitation.id)
		.where('used_at', 'is', null)
		.executeTakeFirstOrThrow();
	if (numUpdatedRows === 0n) throw new InputError('this invitation was used already; sign in instead');
	await createTuner(auth, { name, email: invitation.email, password, role: invitation.role });
	return invitation.email;
}

export async function openInvitations(
	db: Db,
	now = new Date()
): Promise<{ id: number; email: string; role: string; expiresAt: string }[]> {
	return db
		.selectFrom('invitations')
		.select(['id', 'email', 'role', 'expires_at as expiresAt'])
		.where('used_at', 'is', null)
		.where('expires_at', '>', now.toISOString())
		.orderBy('id')
		.execute();
}

export async function withdrawInvitation(db: Db, id: number): Promise<void> {
	await db.deleteFrom('invitations').where('id', '=', id).where('used_at', 'is', null).execute();
}
