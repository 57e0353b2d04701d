/**
 * `npm run backup -- FOLDER`: a consistent copy of the data folder while the server runs. First the database, by SQLite's own online
 * backup; then the files, which never change once they are there. `npm run restore -- BACKUP FOLDER` lays it out again, checked.
 */
import Sqlite from 'better-sqlite3';
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { cp, rename, rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { createGunzip } from 'node:zlib';

const [command, ...rest] = process.argv.slice(2);
const fail = (message) => {
	process.stderr.write(`${message}\n`);
	process.exit(1);
};

/** Hash of a stored file's own bytes, whether it is kept compressed or not. */
function hashOf(path) {
	return new Promise((done, failed) => {
		const hash = createHash('sha256');
		const source = createReadStream(path);
		const bytes = path.endsWith('.gz') ? source.pipe(createGunzip()) : source;
		source.on('error', failed);
		bytes
			.on('error', failed)
			.on('data', (d) => hash.update(d))
			.on('end', () => done(hash.digest('hex')));
	});
}

/** Hashes that rows of the database refer to. */
function wanted(database) {
	const db = new Sqlite(database, { readonly: true });
	// Every table that names a file by its hash, as the database itself says: one that is added later is in the next copy.
	const tables = db
		.prepare(
			`select m.name from sqlite_master m, pragma_table_info(m.name) c where m.type = 'table' and c.name = 'sha256'`
		)
		.all();
	const rows = tables.flatMap(({ name }) => db.prepare(`select sha256 from "${name}"`).all());
	db.close();
	return new Set(rows.map((r) => r.sha256));
}

/** Files that were lost before the copy was made: it says so itself, and is sound without them. */
const MISSING = 'missing.json';
const knownMissing = (folder) =>
	new Set(existsSync(join(folder, MISSING)) ? JSON.parse(readFileSync(join(folder, MISSING), 'utf8')) : []);

/** What is wrong with a copy: the database damaged, a file missing or other than its name. Empty where it is sound. */
async function faults(folder) {
	const db = new Sqlite(join(folder, 'tanto.sqlite'), { readonly: true });
	const [{ integrity_check: answer }] = db.pragma('integrity_check');
	db.close();
	const out = answer === 'ok' ? [] : [`the database is damaged: ${answer}`];
	const lost = knownMissing(folder);
	for (const hash of wanted(join(folder, 'tanto.sqlite'))) {
		if (lost.has(hash)) continue;
		const path = join(folder, 'files', hash.slice(0, 2), hash);
		const there = [path, `${path}.gz`].find((p) => existsSync(p));
		if (!there) out.push(`the file ${hash} is missing`);
		else if ((await hashOf(there)) !== hash) out.push(`the file ${hash} is damaged`);
	}
	return out;
}

async function backup(from, to) {
	if (!existsSync(join(from, 'tanto.sqlite')))
		fail(`${from} is no data folder: there is no tanto.sqlite in it`);
	if (existsSync(to) && readdirSync(to).length) fail(`${to} is not empty; give a new folder`);
	const half = `${to}.part`;
	await rm(half, { recursive: true, force: true });
	mkdirSync(half, { recursive: true });
	const db = new Sqlite(join(from, 'tanto.sqlite'), { readonly: true });
	await db.backup(join(half, 'tanto.sqlite'));
	db.close();
	// A file may be put under its compressed name, or be removed, while this runs: what the copy of the database wants is what counts.
	const lost = [];
	for (const hash of wanted(join(half, 'tanto.sqlite'))) {
		const name = join('files', hash.slice(0, 2), hash);
		for (let tries = 0; ; tries++) {
			const there = [name, `${name}.gz`].find((n) => existsSync(join(from, n)));
			try {
				if (there) await cp(join(from, there), join(half, there));
				else if (tries < 3) continue;
				else lost.push(hash);
				break;
			} catch (e) {
				if (tries > 3) throw e;
			}
		}
	}
	if (existsSync(join(from, 'session-key'))) await cp(join(from, 'session-key'), join(half, 'session-key'));
	if (lost.length) writeFileSync(join(half, MISSING), JSON.stringify(lost));
	const wrong = await faults(half);
	if (wrong.length) fail(`the copy is not sound: ${wrong.slice(0, 5).join('; ')}`);
	await rm(to, { recursive: true, force: true });
	await rename(half, to);
	console.log(`A checked copy of ${from} is in ${to}.`);
	// Read by the owner's page: when the last good copy was made.
	writeFileSync(
		join(from, 'last-backup.json'),
		JSON.stringify({ at: new Date().toISOString(), to, missing: lost.length })
	);
	// The rest is safe; that something is lost has to be heard all the same.
	if (lost.length)
		fail(
			`${lost.length === 1 ? 'One file is' : `${lost.length} files are`} missing in ${from} and in the copy: ${lost.slice(0, 5).join(', ')}`
		);
}

async function restore(from, to) {
	if (!existsSync(join(from, 'tanto.sqlite'))) fail(`${from} is no backup: there is no tanto.sqlite in it`);
	if (existsSync(to) && readdirSync(to).length) fail(`${to} is not empty; move it away first`);
	const wrong = await faults(from);
	if (wrong.length) fail(`the backup is not sound, nothing was restored: ${wrong.slice(0, 5).join('; ')}`);
	await cp(from, to, { recursive: true });
	const lost = [...knownMissing(from)];
	if (lost.length) console.log(`Missing since before the backup: ${lost.slice(0, 5).join(', ')}`);
	console.log(`${from} is restored in ${to}. Start with TANTO_DATA_DIR=${to}`);
}

const data = resolve(process.env.TANTO_DATA_DIR ?? './data');
if (command === 'backup' && rest.length === 1) await backup(data, resolve(rest[0]));
else if (command === 'restore' && rest.length >= 1) await restore(resolve(rest[0]), resolve(rest[1] ?? data));
else fail('backup FOLDER, or restore BACKUP [FOLDER]; the data folder is TANTO_DATA_DIR, else ./data');
