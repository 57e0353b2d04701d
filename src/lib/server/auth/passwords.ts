/** Passwords changed and set anew. Every other session of the tuner ends with it: whoever knew the old one is out. */
import type { Cookies } from '@sveltejs/kit';
import { APIError } from 'better-auth/api';
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { passCookies, type Auth } from './accounts.ts';
import { tokenSentBy } from './reset-token.ts';

/** @returns a token with which a new password can be set once, within the hour; `null` where nobody has this address */
export function resetToken(auth: Auth, email: string): Promise<string | null> {
	return tokenSentBy(async () => {
		// What is no address at all belongs to nobody.
		if (z.email().safeParse(email).success) await auth.api.requestPasswordReset({ body: { email } });
	});
}

/** @throws InputError where the link is wrong, used or too old */
export async function resetPassword(auth: Auth, token: string, newPassword: string): Promise<void> {
	try {
		await auth.api.resetPassword({ body: { token, newPassword } });
	} catch (e) {
		if (e instanceof APIError) throw new InputError('this link does not work any more; ask for a new one');
		throw e;
	}
}

/** @throws InputError where the password that is valid now was not given */
export async function changePassword(
	auth: Auth,
	request: Request,
	cookies: Cookies,
	{ current, next }: { current: string; next: string }
): Promise<void> {
	try {
		const { headers } = await auth.api.changePassword({
			body: { currentPassword: current, newPassword: next, revokeOtherSessions: true },
			headers: request.headers,
			returnHeaders: true
		});
		passCookies(headers, cookies);
	} catch (e) {
		if (e instanceof APIError) throw new InputError('this is not your password', 'Password now');
		throw e;
	}
}
