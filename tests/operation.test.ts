/** What docs/operation.md tells to type: drills are done on a folder of their own, the rest is checked as far as a machine without root can. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Migrator } from 'kysely';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createTuner, openAccounts, tuners } from '../src/lib/server/auth/accounts.ts';
import { migrations } from '../src/lib/server/db/migrations.ts';
import { connect, migrate } from '../src/lib/server/db/open.ts';
import { arrived, pathOfFile, receive } from '../src/lib/server/storage/files.ts';
import { putJob, putLog } from '../src/lib/server/testing/world.ts';

const root = join(import.meta.dirname, '..');
const text = readFileSync(join(root, 'docs/operation.md'), 'utf8');
const blocks = [...text.matchAll(/^```sh (\w+)\n([^]*?)^```/gm)].map(([, kind, body]) => ({
	kind,
	body: body!
}));
const drills = blocks.filter((b) => b.kind === 'drill');
const OWNER = 'owner@workshop.example';

let folder: string;
let sha256: string;
let env: NodeJS.ProcessEnv;
const at = (name: string) => join(folder, name);

beforeAll(async () => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-operation-'));
	env = {
		...process.env,
		TANTO_DATA_DIR: at('data'),
		BACKUPS: at('backups'),
		RESTORED: at('restored'),
		MOVED: at('moved'),
		ELSEWHERE: at('elsewhere'),
		OWNER
	};
	const db = connect(at('data'));
	await migrate(db);
	await createTuner(await openAccounts(db, at('data')), {
		name: 'Owner',
		email: OWNER,
		password: 'long enough 1',
		role: 'owner'
	});
	const file = await receive(at('data'), new Response('time,rpm\n0,900\n').body! as never, 1000);
	arrived(file);
	sha256 = file.sha256;
	const log = await putLog(db, await putJob(db, { title: 'the job of the drill' }));
	await db.updateTable('logs').set({ sha256, bytes: file.bytes }).where('id', '=', log).execute();
	await db.destroy();
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function bash(body: string, ...flags: string[]) {
	const r = spawnSync('bash', ['-euo', 'pipefail', ...flags, '-c', body], {
		cwd: root,
		env,
		encoding: 'utf8'
	});
	return { code: r.status, said: r.stdout + r.stderr };
}

async function jobsIn(data: string): Promise<string[]> {
	const db = connect(data);
	try {
		return (await db.selectFrom('jobs').select('title').execute()).map((j) => j.title);
	} finally {
		await db.destroy();
	}
}

describe('the commands of the operation document', () => {
	it('are all of a known kind, and shell', () => {
		expect(drills.length).toBeGreaterThanOrEqual(4);
		expect(blocks.every((b) => b.kind === 'drill' || b.kind === 'machine')).toBe(true);
		for (const b of blocks) expect(bash(b.body, '-n'), b.body).toEqual({ code: 0, said: '' });
	});
	it('back up, restore as a drill, move to another folder, and make a link for a new password', async () => {
		const results = drills.map((b) => bash(b.body));
		expect(
			results.map((r) => r.code),
			results.map((r) => r.said).join('\n')
		).toEqual(drills.map(() => 0));
		for (const name of ['restored', 'elsewhere']) {
			expect(await jobsIn(at(name))).toEqual(['the job of the drill']);
			expect(readFileSync(pathOfFile(at(name), sha256), 'utf8')).toBe('time,rpm\n0,900\n');
			expect(readFileSync(join(at(name), 'session-key'))).toEqual(
				readFileSync(join(at('data'), 'session-key'))
			);
		}
		expect(results.at(-1)!.said).toMatch(/\/reset\/\w{20,}/);
		expect(existsSync(join(at('data'), 'last-backup.json'))).toBe(true);
	});
	it('keep as many nightly copies as they are told, the newest, and tell of a lost file by their end', () => {
		// Two of nights before; one that broke off counts for nothing.
		for (const name of ['2020-01-01-031500', '2020-01-02-031500', '2020-01-03-031500.part'])
			mkdirSync(join(at('nights'), name), { recursive: true });
		const night = () => bash(`deploy/nightly-backup.sh "${at('nights')}" 2`);
		expect(night().code).toBe(0);
		const left = readdirSync(at('nights')).sort();
		expect(left.slice(0, 2)).toEqual(['2020-01-02-031500', '2020-01-03-031500.part']);
		expect(left).toHaveLength(3);
		rmSync(pathOfFile(at('data'), sha256));
		rmSync(at('nights'), { recursive: true });
		const lost = night();
		expect(lost.code).toBe(1);
		expect(lost.said).toContain('One file is missing');
		expect(readdirSync(at('nights'))).toHaveLength(1);
	});
	it('say of a wrong address whose accounts there are, and of a wrong folder that it is none', () => {
		const r = bash('npm run --silent password -- nobody@workshop.example');
		expect(r.code).toBe(1);
		expect(r.said).toContain(OWNER);
		expect(bash('TANTO_DATA_DIR=/nowhere npm run --silent password -- a@b.example').said).toContain(
			'is no data folder'
		);
	});
});

it('a folder of the oldest version is brought up to date with its accounts, and backs up and restores', async () => {
	const old = at('old');
	const db = connect(old);
	const oldest = Object.keys(migrations).sort()[0]!;
	await new Migrator({ db, provider: { getMigrations: async () => migrations } }).migrateTo(oldest);
	expect(await migrate(db)).toBeUndefined();
	await createTuner(await openAccounts(db, old), {
		name: 'O',
		email: OWNER,
		password: 'long enough 1',
		role: 'owner'
	});
	await db.destroy();
	expect(bash(`TANTO_DATA_DIR="${old}" node scripts/backup.mjs backup "${at('old-copy')}"`).code).toBe(0);
	expect(bash(`node scripts/backup.mjs restore "${at('old-copy')}" "${at('old-back')}"`).code).toBe(0);
	const back = connect(at('old-back'));
	expect((await tuners(back)).map((t) => t.email)).toEqual([OWNER]);
	await back.destroy();
});

describe('the service', () => {
	const unit = (name: string) => readFileSync(join(root, 'deploy', name), 'utf8');
	it('starts what is there, as an account of its own, and starts again', () => {
		const service = unit('tanto.service');
		const [, script] = /^ExecStart=\/usr\/bin\/node (\S+)$/m.exec(service) ?? [];
		expect(existsSync(join(root, script!))).toBe(true);
		for (const line of ['User=tanto', 'Restart=always', 'WantedBy=multi-user.target', 'UMask=0077'])
			expect(service).toContain(line);
		const [, backup] = /^ExecStart=\/opt\/tanto\/(\S+) /m.exec(unit('tanto-backup.service')) ?? [];
		expect(spawnSync('test', ['-x', join(root, backup!)]).status).toBe(0);
		expect(unit('tanto-backup.timer')).toMatch(/^OnCalendar=.*03:15/m);
	});
	it('is a unit that the system takes, where there is a system to ask', () => {
		if (spawnSync('systemd-analyze', ['--version']).status !== 0) return;
		for (const name of ['tanto.service', 'tanto-backup.timer']) {
			const r = spawnSync('systemd-analyze', ['verify', join(root, 'deploy', name)], { encoding: 'utf8' });
			// What it starts is installed where the document says, not here.
			const said = r.stderr.split('\n').filter((l) => l.trim() && !/is not executable|tanto-backup/.test(l));
			expect(said).toEqual([]);
		}
	});
	it('reads settings that the document tells of', () => {
		const names = [...unit('tanto.env.example').matchAll(/^#?([A-Z_]+)=/gm)].map((m) => m[1]!);
		expect(names.length).toBeGreaterThan(5);
		for (const name of names) expect(text).toContain(`\`${name}\``);
	});
});
