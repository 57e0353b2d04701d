/** What tests of a server that is killed, stopped or full share: a job in its folder, logs of some size, their way in by pieces. */
import { createHash } from 'node:crypto';
import { expect } from '@playwright/test';
import { vehicleWith, calibrationWith } from '../../src/core/testing/hand-made.ts';
import { connect, migrate, type Db } from '../../src/lib/server/db/open.ts';
import { createJob } from '../../src/lib/server/jobs/jobs.ts';
import { renewLink } from '../../src/lib/server/jobs/links.ts';
import { ONCE, type BuiltServer } from './built-server.ts';

export const ROWS = 40_000;

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

/** One job in a server's database, and the customer's address of it. */
export async function jobIn({
	folder,
	address
}: BuiltServer): Promise<{ db: Db; jobId: number; link: string }> {
	const db = connect(folder);
	await migrate(db);
	const jobId = await createJob(db, {
		customer: 'a',
		email: null,
		title: 't',
		vehicle: vehicleWith({ cylinders: 16 }),
		calibration: calibrationWith([{ id: 'limit.rpm', kind: 'scalar', value: 7000 }], { fuelModel: 'maf' })
	});
	return { db, jobId, link: `${address}/c/${await renewLink(db, folder, jobId)}` };
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
	return new URL(answer.headers.get('location')!, url).href;
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
