/** What the server side hangs on: the database, the accounts, the data folder, the pool of workers, the mail. */
import type pino from 'pino';
import type { Auth } from '$lib/server/auth/accounts.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { FolderLock } from '$lib/server/storage/lock.ts';
import type { Mailer } from '$lib/server/mail/mailer.ts';
import type { WorkerPool } from '$lib/server/workers/pool.ts';

export interface App {
	db: Db;
	auth: Auth;
	dataDir: string;
	pool: WorkerPool;
	mailer: Mailer;
	logger: pino.Logger;
	/** Asked for by the page that makes the owner; `null` once there is one. */
	setupCode: string | null;
	/** The demo world: signing in takes one click. */
	demo: boolean;
	lock: FolderLock;
	clearing: NodeJS.Timeout;
}
