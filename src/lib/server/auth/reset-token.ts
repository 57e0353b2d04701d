/** The token of a link for a new password, on its way from the accounts' package to whoever asked for it. */
import { AsyncLocalStorage } from 'node:async_hooks';

/** How long a link to set a new password works. */
export const RESET_MINUTES = 60;

const asked = new AsyncLocalStorage<{ token: string | null }>();

/** What the package calls in place of sending a mail. */
export async function keepToken({ token }: { token: string }): Promise<void> {
	const mine = asked.getStore();
	if (mine) mine.token = token;
}

/** @returns the token that `work` made the package send; `null` where it sent none */
export async function tokenSentBy(work: () => Promise<unknown>): Promise<string | null> {
	const mine = { token: null };
	await asked.run(mine, work);
	return mine.token;
}
