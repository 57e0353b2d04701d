import type { App as TantoApp } from '$lib/server/context';
import type { Tuner } from '$lib/server/auth/accounts';

declare global {
	namespace App {
		interface Locals {
			app: TantoApp;
			/** Who is signed in. Never `null` behind the pages that need an account. */
			tuner: Tuner | null;
		}
	}
}

export {};
