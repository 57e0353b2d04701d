/**
 * Accounts of the tuners: passwords, sessions and their tables come from a package made for it. Its own routes are not
 * exposed: everything goes through this server's forms, which check origin and rate first.
 */
import { betterAuth } from 'better-auth';
import { APIError } from 'better-auth/api';
import { getMigrations } from 'better-auth/db/migration';
import { parseSetCookieHeader } from 'better-auth/cookies';
import type { Cookies } from '@sveltejs/kit';
import type { Db } from '$lib/server/db/open.ts';
import { isFull } from '$lib/server/storage/disk-space.ts';
import { folderKey } from '$lib/server/storage/encryption.ts';
import { keepToken, RESET_MINUTES } from './reset-token.ts';

/** An apprentice prepares; what goes out to a customer as a revision is released by a tuner. */
export const ROLES = ['owner', 'tuner', 'apprentice'] as const;
export type Role = (typeof ROLES)[number];

const roleOf = (stored: unknown): Role => ROLES.find((r) => r === stored) ?? 'apprentice';

export interface Tuner {
	id: string;
	name: string;
	email: string;
	role: Role;
	/** The session that the request came with. */
	sessionToken: string;
}

export const MIN_PASSWORD = 10;
const SESSION_DAYS = 30;
const DAY_S = 86_400;

function configure(db: Db, dataDir: string) {
	const origin = process.env['ORIGIN'];
	return betterAuth({
		database: { db, type: 'sqlite' },
		secret: folderKey(dataDir),
		...(origin ? { baseURL: origin } : { baseURL: 'http://127.0.0.1' }),
		telemetry: { enabled: false },
		logger: { disabled: true },
		emailAndPassword: {
			enabled: true,
			minPasswordLength: MIN_PASSWORD,
			maxPasswordLength: 200,
			sendResetPassword: keepToken,
			resetPasswordTokenExpiresIn: RESET_MINUTES * 60,
			revokeSessionsOnPasswordReset: true
		},
		session: { expiresIn: SESSION_DAYS * DAY_S, updateAge: DAY_S },
		user: {
			additionalFields: { role: { type: 'string', required: true, defaultValue: 'tuner', input: true } }
		},
		advanced: { cookiePrefix: 'tanto', useSecureCookies: origin?.startsWith('https:') ?? false }
	});
}

export type Auth = ReturnType<typeof configure>;

/** Opens the accounts and brings their tables up to date. */
export async function openAccounts(db: Db, dataDir: string): Promise<Auth> {
	const auth = configure(db, dataDir);
	const { runMigrations } = await getMigrations(auth.options);
	await runMigrations();
	return auth;
}

/** Hands the cookies of an answer of the package on to the browser. */
export function passCookies(headers: Headers, cookies: Cookies): void {
	for (const [name, { value, ...given }] of parseSetCookieHeader(headers.get('set-cookie') ?? ''))
		cookies.set(name, decodeURIComponent(value), {
			path: '/',
			httpOnly: true,
			sameSite: 'lax',
			secure: given.secure ?? false,
			...(given['max-age'] === undefined ? {} : { maxAge: given['max-age'] })
		});
}

/** The tuner whose session a request carries; `null` for none, an expired, a revoked or a forged one. */
export async function tunerOf(auth: Auth, request: Request, cookies: Cookies): Promise<Tuner | null> {
	const session = (query: { disableRefresh?: boolean }) =>
		auth.api.getSession({ headers: request.headers, query, returnHeaders: true });
	// A session is prolonged once a day; where that can't be written it is valid all the same.
	const { headers, response } = await session({}).catch((e: unknown) => {
		if (isFull(e)) return session({ disableRefresh: true });
		throw e;
	});
	if (!response) return null;
	passCookies(headers, cookies);
	const { user, session: own } = response;
	return {
		id: user.id,
		name: user.name,
		email: user.email,
		role: roleOf(user.role),
		sessionToken: own.token
	};
}

/** Signs in; `false` when address and password don't belong together. */
export async function signIn(
	auth: Auth,
	request: Request,
	cookies: Cookies,
	email: string,
	password: string
): Promise<boolean> {
	try {
		const { headers } = await auth.api.signInEmail({
			body: { email, password },
			headers: request.headers,
			returnHeaders: true
		});
		passCookies(headers, cookies);
		return true;
	} catch (e) {
		// Only a refusal is a wrong password; a full disk or a locked database is a fault of ours and goes up.
		if (e instanceof APIError && /^(UNAUTHORIZED|BAD_REQUEST|FORBIDDEN)$/.test(String(e.status)))
			return false;
		throw e;
	}
}

export async function signOut(auth: Auth, request: Request, cookies: Cookies): Promise<void> {
	const { headers } = await auth.api.signOut({ headers: request.headers, returnHeaders: true });
	passCookies(headers, cookies);
}

/** Ends every session of a tuner, this one included. */
export async function signOutEverywhere(db: Db, tunerId: string): Promise<void> {
	await db.deleteFrom('session').where('userId', '=', tunerId).execute();
}

/** Creates a tuner; the password is hashed by the package (scrypt). Throws for an address that is taken. */
export async function createTuner(
	auth: Auth,
	tuner: { name: string; email: string; password: string; role: Role }
): Promise<string> {
	const { user } = await auth.api.signUpEmail({ body: tuner });
	return user.id;
}

export async function hasTuners(db: Db): Promise<boolean> {
	return (await db.selectFrom('user').select('id').limit(1).executeTakeFirst()) !== undefined;
}

export async function tuners(
	db: Db
): Promise<{ id: string; name: string; email: string; role: Role; sessions: number }[]> {
	const rows = await db
		.selectFrom('user')
		.leftJoin('session', 'session.userId', 'user.id')
		.select(['user.id', 'user.name', 'user.email', 'user.role'])
		.select(({ fn }) => fn.count<number>('session.id').as('sessions'))
		.groupBy('user.id')
		.orderBy('user.createdAt')
		.execute();
	return rows.map((r) => ({ ...r, role: roleOf(r.role) }));
}

/** Removes a tuner with all sessions and open invitations; the owner stays. */
export async function removeTuner(db: Db, tunerId: string): Promise<boolean> {
	return db.transaction().execute(async (trx) => {
		const tuner = await trx
			.selectFrom('user')
			.select('email')
			.where('id', '=', tunerId)
			.where('role', '!=', 'owner')
			.executeTakeFirst();
		if (!tuner) return false;
		await trx.deleteFrom('user').where('id', '=', tunerId).execute();
		await trx
			.updateTable('jobs')
			.set({ tuner_id: null, tuner_name: null })
			.where('tuner_id', '=', tunerId)
			.execute();
		await signOutEverywhere(trx, tunerId);
		// No invitation that is still open lets in again who was removed.
		await trx
			.deleteFrom('invitations')
			.where('email', '=', tuner.email)
			.where('used_at', 'is', null)
			.execute();
		return true;
	});
}
