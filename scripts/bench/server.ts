/** The built server on a folder of its own, for measuring: takes a log in, and is asked for pages meanwhile. */
import { spawn } from 'node:child_process';
import { createReadStream, existsSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { createTuner, openAccounts } from '../../src/lib/server/auth/accounts.ts';
import { connect, migrate } from '../../src/lib/server/db/open.ts';
import { DEMO_TUNER } from '../../src/lib/server/db/demo.ts';
import { pathOfFile } from '../../src/lib/server/storage/files.ts';
import { createJob } from '../../src/lib/server/jobs/jobs.ts';
import { createDraft, currentRevision, revision } from '../../src/lib/server/revisions/revisions.ts';
import { VEHICLES } from '../../src/core/simulator/vehicles.ts';

const PORT = 4393;
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));

export async function benchServer() {
	const dataDir = mkdtempSync(join(tmpdir(), 'tanto-bench-'));
	const db = connect(dataDir);
	await migrate(db);
	await createTuner(await openAccounts(db, dataDir), DEMO_TUNER);
	const vehicle = VEHICLES.kestrel;
	const jobId = await createJob(db, {
		customer: 'Bench',
		email: null,
		title: 'Bench',
		vehicle,
		calibration: baseCalibration({ vehicle, fuelModel: 'speed-density', name: 'b' })
	});
	const address = `http://127.0.0.1:${PORT}`;
	const server = spawn(process.execPath, ['build/index.js'], {
		stdio: 'ignore',
		env: {
			...process.env,
			HOST: '127.0.0.1',
			PORT: String(PORT),
			ORIGIN: address,
			BODY_SIZE_LIMIT: 'Infinity',
			TANTO_DATA_DIR: dataDir,
			TANTO_DEMO: '1',
			TANTO_LOG_LEVEL: 'silent'
		}
	});
	for (
		let i = 0;
		i < 200 &&
		!(await fetch(`${address}/sign-in`).then(
			(r) => r.ok,
			() => false
		));
		i++
	)
		await pause(50);
	const signedIn = await fetch(`${address}/sign-in?/demo`, {
		method: 'POST',
		headers: { origin: address, 'content-type': 'application/x-www-form-urlencoded' },
		redirect: 'manual'
	});
	const cookie = signedIn.headers
		.getSetCookie()
		.map((c) => c.split(';')[0])
		.join('; ');
	const get = (path: string) => fetch(address + path, { headers: { cookie } });

	return {
		address,
		jobId,
		cookie,
		/** From the first byte sent to the verdict; meanwhile the queue, the job and the log's state are asked for again and again. */
		async drop(file: string): Promise<{ id: number; verdictMs: number; slowestAnswerMs: number }> {
			// Routes are loaded when first asked for; a server that has been up for a while has done that.
			for (let i = 0; i < 3; i++)
				for (const path of ['/', `/jobs/${jobId}`, '/api/v1/logs/1', '/customers'])
					await (await get(path)).text();
			let running = true;
			let slowestAnswerMs = 0;
			const asking = (async () => {
				for (let i = 0; running; i++) {
					const start = performance.now();
					await (await get(['/', `/jobs/${jobId}`, '/customers'][i % 3]!)).text();
					slowestAnswerMs = Math.max(slowestAnswerMs, performance.now() - start);
					await pause(40);
				}
			})();
			const dropped = performance.now();
			const sent = await fetch(`${address}/api/v1/jobs/${jobId}/logs?name=big.csv`, {
				method: 'PUT',
				headers: { 'content-type': 'application/octet-stream', cookie },
				body: Readable.toWeb(createReadStream(file)) as ReadableStream,
				duplex: 'half'
			} as RequestInit);
			if (!sent.ok) throw new Error(await sent.text());
			const { id } = (await sent.json()) as { id: number };
			for (;;) {
				const log = (await (await get(`/api/v1/logs/${id}`)).json()) as { state: string; message: string };
				if (log.state === 'screened') break;
				if (log.state === 'failed') throw new Error(log.message);
				await pause(50);
			}
			const verdictMs = performance.now() - dropped;
			running = false;
			await asking;
			return { id, verdictMs, slowestAnswerMs };
		},
		/** A draft whose first table has 40 × 40 cells: the path of its page. */
		async draft(): Promise<string> {
			const points = (from: number, by: number) => Array.from({ length: 40 }, (_, i) => from + i * by);
			const x = { channel: 'rpm', unit: 'rpm', points: points(500, 170) };
			const y = { channel: 'map', unit: 'kPa', points: points(20, 5) };
			const job = await createJob(db, {
				customer: 'Bench',
				email: null,
				title: 'Grid',
				vehicle,
				calibration: {
					schema: 'tanto.calibration/1',
					name: 'grid',
					fuelModel: 'speed-density',
					items: [{ id: 'fuel.table', kind: 'map', x, y, values: y.points.map(() => x.points.map(() => 80)) }]
				}
			});
			const line = await currentRevision(db, job);
			const draft = await createDraft(db, (await revision(db, line.id))!, null, []);
			return `/jobs/${job}/revisions/${draft}`;
		},
		/** Bytes that the columns take, and the received file once it is compressed, over the bytes of the text. */
		async stored(id: number): Promise<{ columnShare: number; fileShare: number }> {
			const log = await db
				.selectFrom('logs')
				.select(['sha256', 'bytes'])
				.where('id', '=', id)
				.executeTakeFirstOrThrow();
			const { columns } = await db
				.selectFrom('log_blocks')
				.innerJoin('log_channels', 'log_channels.id', 'log_blocks.channel_row')
				.where('log_channels.log_id', '=', id)
				.select(({ fn, ref }) => fn.sum<number>(fn('length', [ref('log_blocks.bytes')])).as('columns'))
				.executeTakeFirstOrThrow();
			const packed = `${pathOfFile(dataDir, log.sha256)}.gz`;
			for (let i = 0; i < 300 && !existsSync(packed); i++) await pause(100);
			return { columnShare: columns / log.bytes, fileShare: statSync(packed).size / log.bytes };
		},
		async end(): Promise<void> {
			await db.destroy();
			server.kill('SIGTERM');
			await new Promise((r) => server.once('exit', r));
			rmSync(dataDir, { recursive: true, force: true });
		}
	};
}
