/** Name, address and password of a new account out of a form. */
import { z } from 'zod';
import { parseWith } from '$core/parse.ts';
import { field } from './http.ts';
import { MIN_PASSWORD } from '$lib/server/auth/accounts.ts';

const name = z.string().min(1, 'a name is needed').max(120);
const password = z
	.string()
	.min(MIN_PASSWORD, `a password has at least ${MIN_PASSWORD} characters`)
	.max(200, 'a password has at most 200 characters');
const email = z.email('this is no mail address').max(200);

function passwordOf(data: FormData, name = 'password'): string {
	const value = data.get(name);
	return typeof value === 'string' ? value : '';
}

/** @throws InputError where it is too short or too long */
export const newPasswordFrom = (data: FormData): string =>
	parseWith(z.object({ password }), { password: passwordOf(data) }).password;

/** The password that is valid now, and the one that takes its place. @throws InputError naming the field */
export const changeFrom = (data: FormData): { current: string; next: string } => ({
	current: passwordOf(data, 'current'),
	next: newPasswordFrom(data)
});

/** @throws InputError naming the field */
export function ownerFrom(data: FormData): { name: string; email: string; password: string } {
	return parseWith(z.object({ name, email, password }), {
		name: field(data, 'name'),
		email: field(data, 'email').toLowerCase(),
		password: passwordOf(data)
	});
}

/** @throws InputError naming the field */
export function invitedFrom(data: FormData): { name: string; password: string } {
	return parseWith(z.object({ name, password }), { name: field(data, 'name'), password: passwordOf(data) });
}

/** @throws InputError when it is no address */
export function addressFrom(data: FormData): string {
	return parseWith(z.object({ email }), { email: field(data, 'email').toLowerCase() }).email;
}
