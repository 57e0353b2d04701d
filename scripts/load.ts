/**
 * `npm run load`: how the built server bears a busy day, on this machine. One large log is read while fifty files of 3 MB arrive at once
 * and pages are asked for all the while; then the queue with 500 jobs and 2000 logs. Prints what it measured; exits 1 when a page took longer
 * than a second or wasn't answered, the server ended, or took more than 1 GB.
 */
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { parseCalibration } from '../src/core/calibration/document.ts';
import { vehicleWith } from '../src/core/testing/hand-made.ts';
import { createTuner, openAccounts } from '../src/lib/server/auth/accounts.ts';
import { DEMO_TUNER } from '../src/lib/server/db/demo.ts';
import { connect, migrate } from '../src/lib/server/db/open.ts';
import { createJob } from '../src/lib/server/jobs/jobs.ts';
import { renewLink } from '../src/lib/server/jobs/links.ts';

const PORT = '4397';
const ADDRESS = `http://127.0.0.1:${PORT}`;
const large = Number(process.argv[2] ?? 700) * 1e6;
const UPLOADS = 50;
const UPLOAD_BYTES = 3e6;
const JOBS = 500;
const LOGS = 2000;
const SLOWEST_MS = 1000;
const MOST_BYTES = 1e9;

const folder = mkdtempSync(join(tmpdir(), 'tanto-load-'));
const db = connect(folder);
await migrate(db);
await createTuner(await openAccounts(db, folder), DEMO_TUNER);
const calibration = parseCalibration({
	schema: 'tanto.calibration/1',
	name: 'c',
	fuelModel: 'maf',
	items: [{ id: 'limit.rpm', kind: 'scalar', value: 7000 }]
});
const jobId = await createJob(db, {
	customer: 'a',
	email: null,
	title: 't',
	vehicle: vehicleWith(),
	calibration
});
const link = `${ADDRESS}/c/${await renewLink(db, folder, jobId)}`;

/** A log of about `bytes`, made piece by piece. */
function* log(bytes: number, columns: number, n: number): Generator<Uint8Array> {
	const text = new TextEncoder();
	yield text.encode(
		`Time (s),Engine Speed (rpm),Manifold Pressure (kPa),Throttle (%),${Array.from({ length: columns }, (_, i) => `Sensor ${i}`).join(',')}\n`
	);
	// Rows without their time are made once: this process has to be faster than the server that it measures.
	const rows = Array.from(
		{ length: 2000 },
		(_, i) =>
			`,${1000 + ((i * 7 + n) % 5000)},${40 + (i % 100)},${i % 100},${Array.from({ length: columns }, (_, c) => (((i + c) % 997) / 10 + 1).toFixed(6)).join(',')}\n`
	);
	for (let at = 0, i = 0; at < bytes;) {
		let piece = '';
		for (const row of rows) piece += (i++ / 20).toFixed(2) + row;
		const encoded = text.encode(piece);
		at += encoded.length;
		yield encoded;
	}
}

const lengthOf = (pieces: Iterable<Uint8Array>) => {
	let length = 0;
	for (const piece of pieces) length += piece.length;
	return length;
};

// Made before anything is measured: a connection that stands idle while its client is busy is closed by the server.
const largeLength = lengthOf(log(large, 56, 0));
const uploads = Array.from({ length: UPLOADS }, (_, n) => [...log(UPLOAD_BYTES, 20, n + 1)]);

const server = spawn(process.execPath, ['build/index.js'], {
	stdio: ['ignore', 'inherit', 'inherit'],
	env: {
		...process.env,
		HOST: '127.0.0.1',
		PORT,
		ORIGIN: ADDRESS,
		BODY_SIZE_LIMIT: 'Infinity',
		TANTO_DATA_DIR: folder,
		TANTO_LOG_LEVEL: 'error',
		TANTO_DEMO: '1'
	}
});
let ended = false;
server.once('exit', () => (ended = true));
process.once('exit', () => server.kill('SIGKILL'));
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));
while (
	!(await fetch(`${ADDRESS}/healthz`).then(
		(r) => r.ok,
		() => false
	))
)
	await pause(100);

const signedIn = await fetch(`${ADDRESS}/sign-in?/demo`, {
	method: 'POST',
	headers: { origin: ADDRESS, 'content-type': 'application/x-www-form-urlencoded' },
	redirect: 'manual'
});
const cookie = signedIn.headers
	.getSetCookie()
	.map((c) => c.split(';')[0])
	.join('; ');

/** Memory of the server in bytes, as the system counts it. */
const memory = () => {
	const status = readFileSync(`/proc/${server.pid}/status`, 'utf8');
	return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) * 1024;
};

const begin = async (name: string, length: number): Promise<string> => {
	const answer = await fetch(`${link}/uploads`, {
		method: 'POST',
		headers: {
			'tus-resumable': '1.0.0',
			'upload-length': String(length),
			'upload-metadata': `name ${btoa(name)}`
		}
	});
	if (answer.status !== 201) throw new Error(`upload refused: ${answer.status} ${await answer.text()}`);
	return new URL(answer.headers.get('location')!, ADDRESS).href;
};
/** Sends a log whose pieces are given, or are made once more while it is sent. */
async function send(name: string, length: number, pieces: Iterator<Uint8Array>): Promise<number> {
	const body = new ReadableStream<Uint8Array>({
		pull(c) {
			const next = pieces.next();
			if (next.done) c.close();
			else c.enqueue(next.value);
		}
	});
	const answer = await fetch(await begin(name, length), {
		method: 'PATCH',
		headers: {
			'tus-resumable': '1.0.0',
			'upload-offset': '0',
			'content-type': 'application/offset+octet-stream'
		},
		body,
		duplex: 'half'
	} as RequestInit);
	return answer.status;
}
const say = (text: string) => console.log(text);
const started = performance.now();
/** Asks for pages from a thread of its own: making and sending the uploads must not count as the server's time. */
const STRANGER = `
const { parentPort, workerData: { address, paths, cookie } } = require('node:worker_threads');
let going = true;
parentPort.once('message', () => (going = false));
(async () => {
	while (going) {
		for (const path of paths) {
			const from = performance.now();
			const answer = await fetch(address + path, { headers: { cookie } }).catch(() => null);
			if (answer) await answer.text();
			parentPort.postMessage({ path, ok: answer?.ok ?? false, took: performance.now() - from });
		}
		await new Promise((r) => setTimeout(r, 100));
	}
	process.exit();
})();`;
const times: number[] = [];
let refused = 0;
let peak = 0;
const stranger = new Worker(STRANGER, {
	eval: true,
	workerData: { address: ADDRESS, paths: ['/', `/jobs/${jobId}`, '/customers'], cookie }
});
stranger.on('message', ({ path, ok, took }: { path: string; ok: boolean; took: number }) => {
	times.push(took);
	if (!ok) refused++;
	if (took > SLOWEST_MS)
		say(
			`  ${path} took ${(took / 1000).toFixed(1)} s, until ${((performance.now() - started) / 1000).toFixed(0)} s after the start`
		);
	peak = Math.max(peak, memory());
});

say(`a log of ${Math.round(large / 1e6)} MB arrives …`);
const first = await send('large.csv', largeLength, log(large, 56, 0));
say(
	`  ${first}, ${((performance.now() - started) / 1000).toFixed(1)} s; ${UPLOADS} of 3 MB at once while it is read …`
);
const burst = performance.now();
const answers = await Promise.all(
	uploads.map((pieces, n) => send(`u-${n}.csv`, lengthOf(pieces), pieces.values()))
);
say(
	`  ${answers.filter((a) => a === 200).length} of ${UPLOADS} taken in ${((performance.now() - burst) / 1000).toFixed(1)} s`
);
for (;;) {
	const rows = await db.selectFrom('logs').select(['state']).execute();
	const open = rows.filter((r) => r.state === 'received' || r.state === 'reading').length;
	if (open === 0 || ended) break;
	await pause(1000);
}
stranger.postMessage('enough');
await new Promise((r) => stranger.once('exit', r));
const states = await db.selectFrom('logs').select('state').execute();
say(
	`  all read after ${((performance.now() - started) / 1000).toFixed(0)} s: ${states.filter((s) => s.state === 'screened').length} screened, ${states.filter((s) => s.state === 'failed').length} failed`
);
times.sort((a, b) => a - b);
const at = (q: number) => times[Math.floor((times.length - 1) * q)] ?? Number.NaN;
say(
	`  ${times.length} pages meanwhile, ${refused} without an answer: median ${at(0.5).toFixed(0)} ms, 95 % ${at(0.95).toFixed(0)} ms, slowest ${at(1).toFixed(0)} ms; memory at most ${Math.round(peak / 1e6)} MB`
);

say(`a queue of ${JOBS} jobs and ${LOGS} logs …`);
const [shape] = await db.selectFrom('screenings').selectAll().limit(1).execute();
await db.transaction().execute(async (trx) => {
	for (let j = 0; j < JOBS; j++) {
		const { insertId } = await trx
			.insertInto('jobs')
			.values({
				customer_id: 1,
				vehicle_id: 1,
				title: `job ${j}`,
				waiting_on: 'tuner',
				waiting_since: new Date(j * 1e7).toISOString(),
				created_at: ''
			})
			.executeTakeFirstOrThrow();
		const { insertId: revision } = await trx
			.insertInto('revisions')
			.values({
				job_id: Number(insertId),
				number: 0,
				state: 'baseline',
				document: JSON.stringify(calibration),
				content_hash: '',
				changes: '[]',
				proposal_logs: '[]',
				notes: '',
				created_at: ''
			})
			.executeTakeFirstOrThrow();
		for (let l = 0; l < LOGS / JOBS; l++) {
			const { insertId: logId } = await trx
				.insertInto('logs')
				.values({
					job_id: Number(insertId),
					revision_id: Number(revision),
					name: 'l.csv',
					sha256: `${j}-${l}`,
					bytes: 1,
					sent_by: 'tuner',
					state: 'screened',
					received_at: ''
				})
				.executeTakeFirstOrThrow();
			const { id: _, verdict: __, ...run } = shape!;
			await trx
				.insertInto('screenings')
				.values({ ...run, log_id: Number(logId) })
				.execute();
		}
	}
});
const queueTimes: number[] = [];
let bytes = 0;
for (let i = 0; i < 20; i++) {
	const from = performance.now();
	bytes = (await (await fetch(ADDRESS, { headers: { cookie } })).arrayBuffer()).byteLength;
	queueTimes.push(performance.now() - from);
}
queueTimes.sort((a, b) => a - b);
say(
	`  the queue: median ${queueTimes[10]!.toFixed(0)} ms, slowest ${queueTimes.at(-1)!.toFixed(0)} ms, ${Math.round(bytes / 1000)} kB`
);
const failed =
	ended || refused > 0 || at(1) > SLOWEST_MS || peak > MOST_BYTES || answers.some((a) => a !== 200);
server.kill('SIGTERM');
await new Promise((r) => (ended ? r(0) : server.once('exit', r)));
await db.destroy();
rmSync(folder, { recursive: true, force: true });
process.exitCode = failed ? 1 : 0;
