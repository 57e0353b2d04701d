import type { App as TantoApp } from '$lib/server/app';

declare global {
	namespace App {
		interface Locals {
			app: TantoApp;
		}
	}
}

export {};
