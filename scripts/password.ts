/**
 * `npm run password -- ADDRESS`: a link with which whoever has this mail address sets a new password, made on the server itself: for an owner who forgot
 * theirs. The server may run meanwhile.
 */
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { openAccounts, tuners } from '../src/lib/server/auth/accounts.ts';
import { resetToken } from '../src/lib/server/auth/passwords.ts';
import { RESET_MINUTES } from '../src/lib/server/auth/reset-token.ts';
import { connect, DATABASE_FILE } from '../src/lib/server/db/open.ts';

const email = process.argv[2]?.trim().toLowerCase() ?? '';
const folder = resolve(process.env['TANTO_DATA_DIR'] ?? './data');

function fail(message: string): never {
	process.stderr.write(`${message}\n`);
	process.exit(1);
}

if (!email)
	fail('password ADDRESS: the mail address of the account; the data folder is TANTO_DATA_DIR, else ./data');
if (!existsSync(join(folder, DATABASE_FILE)))
	fail(`${folder} is no data folder: there is no ${DATABASE_FILE} in it`);
const db = connect(folder);
try {
	const token = await resetToken(await openAccounts(db, folder), email);
	if (!token) {
		const known = (await tuners(db)).map((t) => t.email).join(', ');
		fail(`nobody has the address ${email}; accounts: ${known || 'none'}`);
	}
	console.log(
		`Set a new password within ${RESET_MINUTES} minutes at ${process.env['ORIGIN'] ?? ''}/reset/${token}`
	);
} finally {
	await db.destroy();
}
