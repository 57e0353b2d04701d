/**
 * The log's page in a browser: the built server takes the large log in; then the time from opening its page to drawn traces, and from
 * a turn of the wheel to the redrawn picture. The reference is the queue, opened in the same browser.
 */
import { chromium } from '@playwright/test';
import { spawn } from 'node:child_process';
import { createReadStream, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { connect, migrate } from '../../src/lib/server/db/open.ts';
import { createJob } from '../../src/lib/server/jobs.ts';
import { VEHICLES } from '../demo/world.ts';
import { CHROMIUM } from '../chromium.ts';

const file = process.argv[2]!;
const dataDir = mkdtempSync(join(tmpdir(), 'tanto-bench-'));
const db = connect(dataDir);
await migrate(db);
const vehicle = VEHICLES.kestrel;
const jobId = await createJob(db, {
	customer: 'Bench',
	email: null,
	title: 'Bench',
	vehicle,
	calibration: baseCalibration({ vehicle, fuelModel: 'speed-density', name: 'b' })
});
await db.destroy();

const port = 4392;
const address = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, ['build/index.js'], {
	stdio: 'ignore',
	env: {
		...process.env,
		HOST: '127.0.0.1',
		PORT: String(port),
		ORIGIN: address,
		BODY_SIZE_LIMIT: 'Infinity',
		TANTO_DATA_DIR: dataDir,
		TANTO_LOG_LEVEL: 'silent'
	}
});
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));
while (
	!(await fetch(address).then(
		(r) => r.ok,
		() => false
	))
)
	await pause(100);

// Routes are loaded when first asked for; a server that has been up for a while has done that.
await fetch(`${address}/api/v1/logs/1`);
const dropped = performance.now();
const sent = await fetch(`${address}/api/v1/jobs/${jobId}/logs?name=big.csv`, {
	method: 'PUT',
	headers: { 'content-type': 'application/octet-stream' },
	body: Readable.toWeb(createReadStream(file)) as ReadableStream,
	duplex: 'half'
} as RequestInit);
if (!sent.ok) throw new Error(await sent.text());
const { id } = (await sent.json()) as { id: number };
let slowestAnswerMs = 0;
for (;;) {
	const asked = performance.now();
	const log = (await (await fetch(`${address}/api/v1/logs/${id}`)).json()) as {
		state: string;
		message: string;
	};
	slowestAnswerMs = Math.max(slowestAnswerMs, performance.now() - asked);
	if (log.state === 'screened') break;
	if (log.state === 'failed') throw new Error(log.message);
	await pause(50);
}
const verdictMs = performance.now() - dropped;

const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
async function opened(path: string, ready: string): Promise<number> {
	const start = performance.now();
	await page.goto(address + path);
	await page.locator(ready).waitFor();
	return performance.now() - start;
}
const middle = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]!;
const queue: number[] = [];
const traces: number[] = [];
for (let i = 0; i < 5; i++) {
	queue.push(await opened('/', 'h1'));
	traces.push(await opened(`/jobs/${jobId}/logs/${id}`, 'section[aria-label="Traces"][data-ready]'));
}
/** From the event to the frame that shows it, measured in the page itself. */
const zooms = await page.evaluate(async () => {
	const target = document.querySelector('section[aria-label="Traces"] [role="img"]')!;
	const box = target.getBoundingClientRect();
	const times: number[] = [];
	for (let i = 0; i < 20; i++) {
		const start = performance.now();
		target.dispatchEvent(
			new WheelEvent('wheel', {
				deltaY: i < 12 ? -100 : 100,
				clientX: box.left + 600,
				clientY: box.top + 50,
				bubbles: true,
				cancelable: true
			})
		);
		await new Promise((r) => requestAnimationFrame(() => setTimeout(r, 0)));
		times.push(performance.now() - start);
		await new Promise((r) => setTimeout(r, 150));
	}
	return times;
});
await browser.close();
server.kill('SIGTERM');
await new Promise((r) => server.once('exit', r));
rmSync(dataDir, { recursive: true, force: true });
console.log(
	JSON.stringify({
		verdictMs,
		slowestAnswerMs,
		queueMs: middle(queue),
		tracesMs: middle(traces),
		zoomMs: middle(zooms)
	})
);
