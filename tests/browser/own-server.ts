/** A built server on a folder of its own, which a test kills, stops and starts; a job in it, and its customer's way in. */
import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { vehicleWith } from '../../src/core/testing/hand-made.ts';
import { connect, migrate, type Db } from '../../src/lib/server/db/open.ts';
import { createJob } from '../../src/lib/server/jobs.ts';
import { renewLink } from '../../src/lib/server/links.ts';

export const PORT = '4392';
export const ADDRESS = `http://127.0.0.1:${PORT}`;
export const ROWS = 40_000;

/** A connection for one request: none is left over from a server that was killed. */
const ONCE = { connection: 'close' };

/** A log of some 5 MB that takes the server a moment; `n` makes it another file. */
export function logBytes(n: number): Buffer {
	const head = `Time (s),Engine Speed (rpm),Manifold Pressure (kPa),Throttle (%),${Array.from({ length: 16 }, (_, i) => `Lambda Cyl ${i + 1} (λ)`).join(',')}`;
	const lines = [head];
	for (let i = 0; i < ROWS; i++)
		lines.push(
			`${(i / 20).toFixed(2)},${1000 + ((i * 7 + n) % 5000)},${40 + (i % 100)},${i % 100},${Array.from({ length: 16 }, (_, k) => (0.8 + ((i + k) % 40) / 100).toFixed(2)).join(',')}`
		);
	return Buffer.from(`${lines.join('\n')}\n`);
}

/** The same, cut at a line to at most so many bytes. */
export function shortLog(n: number, bytes: number): Buffer {
	const cut = logBytes(n).subarray(0, bytes);
	return cut.subarray(0, cut.lastIndexOf(10) + 1);
}

export const hashOf = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

export class OwnServer {
	private process: ChildProcess | null = null;
	/** What it said since it was started: shown when it ends although nobody ended it. */
	private said = '';

	constructor(readonly folder: string = mkdtempSync(join(tmpdir(), 'tanto-own-'))) {}

	async start(): Promise<void> {
		this.said = '';
		const child = spawn(process.execPath, ['build/index.js'], {
			stdio: ['ignore', 'ignore', 'pipe'],
			env: {
				...process.env,
				HOST: '127.0.0.1',
				PORT,
				ORIGIN: ADDRESS,
				BODY_SIZE_LIMIT: 'Infinity',
				TANTO_DATA_DIR: this.folder,
				TANTO_DEMO: '0'
			}
		});
		child.stderr.on('data', (d) => (this.said = (this.said + String(d)).slice(-4000)));
		this.process = child;
		// A machine at a fraction of its speed takes half a minute for a start.
		for (let i = 0; i < 1200; i++) {
			if (
				await fetch(`${ADDRESS}/sign-in`, { headers: ONCE }).then(
					() => true,
					() => false
				)
			)
				return;
			await new Promise((r) => setTimeout(r, 50));
		}
		throw new Error('the server did not come up');
	}

	/** Where the owner's account is made, as the server says it on a folder that has none. */
	get setup(): string {
		const said = /http\S+\/setup\?code=\S+/.exec(this.said)?.[0];
		if (!said) throw new Error(`the server didn't say where the first account is made: ${this.said}`);
		return said;
	}

	/** @throws with its last words when it ended although nobody ended it */
	alive(): void {
		const { exitCode, signalCode } = this.process!;
		if (exitCode !== null || signalCode !== null) {
			this.process = null;
			throw new Error(`the server ended by itself (${exitCode ?? signalCode}): ${this.said}`);
		}
	}

	get runs(): boolean {
		return this.process !== null;
	}

	/** Ends it and waits until it is gone. @throws when it was gone before */
	async end(signal: 'SIGKILL' | 'SIGTERM' = 'SIGKILL'): Promise<void> {
		this.alive();
		const gone = new Promise((r) => this.process!.once('exit', r));
		this.process!.kill(signal);
		await gone;
		this.process = null;
	}
}

/** A database with one job, and the customer's address of it. */
export async function jobIn(folder: string): Promise<{ db: Db; jobId: number; link: string }> {
	const db = connect(folder);
	await migrate(db);
	const jobId = await createJob(db, {
		customer: 'a',
		email: null,
		title: 't',
		vehicle: vehicleWith({ cylinders: 16 }),
		calibration: parseCalibration({
			schema: 'tanto.calibration/1',
			name: 'c',
			fuelModel: 'maf',
			items: [{ id: 'limit.rpm', kind: 'scalar', value: 7000 }]
		})
	});
	return { db, jobId, link: `${ADDRESS}/c/${await renewLink(db, folder, jobId)}` };
}

export const TUS = { 'tus-resumable': '1.0.0' };

/** The answer to the beginning of an upload. */
export const ask = (url: string, name: string, length: number): Promise<Response> =>
	fetch(`${url}/uploads`, {
		method: 'POST',
		headers: { ...ONCE, ...TUS, 'upload-length': String(length), 'upload-metadata': `name ${btoa(name)}` }
	});

/** Begins an upload that has to be taken; the address that its pieces go to. */
export async function begin(url: string, name: string, length: number): Promise<string> {
	const answer = await ask(url, name, length);
	expect(answer.status).toBe(201);
	return new URL(answer.headers.get('location')!, ADDRESS).href;
}

export const send = (upload: string, bytes: Buffer, offset: number): Promise<Response> =>
	fetch(upload, {
		method: 'PATCH',
		headers: {
			...ONCE,
			...TUS,
			'upload-offset': String(offset),
			'content-type': 'application/offset+octet-stream'
		},
		body: new Uint8Array(bytes)
	});

/** Name, state and message of each log in the database. */
export const states = async (db: Db): Promise<string[]> =>
	(await db.selectFrom('logs').select(['name', 'state', 'message']).orderBy('id').execute()).map(
		(l) => `${l.name} ${l.state} ${l.message ?? ''}`
	);

/** Waits until every log of the database is screened. */
export async function allScreened(db: Db, count?: number): Promise<void> {
	await expect
		.poll(async () => (await states(db)).filter((s) => !s.includes(' screened')), { timeout: 120_000 })
		.toEqual([]);
	if (count !== undefined) expect(await states(db)).toHaveLength(count);
}
