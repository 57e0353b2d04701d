/**
 * The log's page in a browser: the built server takes the large log in; then the time from opening its page to drawn traces, and from
 * a turn of the wheel to the redrawn picture. The reference is the queue, opened in the same browser.
 */
import { chromium } from '@playwright/test';
import { benchServer } from './server.ts';
import { CHROMIUM } from '../chromium.mjs';

const file = process.argv[2]!;
const server = await benchServer();
const { address, jobId } = server;
const { id, verdictMs, slowestAnswerMs } = await server.drop(file);

const browser = await chromium.launch(CHROMIUM);
const context = await browser.newContext({
	viewport: { width: 1280, height: 800 },
	extraHTTPHeaders: { cookie: server.cookie }
});
// The loader keeps names of functions by a helper of its own, which a page doesn't have.
await context.addInitScript('globalThis.__name = (f) => f');
const page = await context.newPage();
async function opened(path: string, ready: string): Promise<number> {
	const start = performance.now();
	await page.goto(address + path);
	await page.locator(ready).first().waitFor();
	return performance.now() - start;
}
const middle = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]!;
const queue: number[] = [];
const traces: number[] = [];
for (let i = 0; i < 5; i++) {
	queue.push(await opened('/', 'h1'));
	traces.push(
		await opened(`/jobs/${jobId}/logs/${id}`, 'section[aria-label="Traces"][data-ready] [data-drawn]')
	);
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
/** From a filter of the cell map, never the same twice, to the frame that shows it. */
await opened(`/jobs/${jobId}/logs/${id}/map`, 'section[aria-label="Map"] [data-cell]');
await page.waitForTimeout(500);
const filters = await page.evaluate(async () => {
	const named = (word: string) =>
		[...document.querySelectorAll<HTMLInputElement>('form input[type=checkbox]')].find(
			(b) => b.parentElement?.textContent?.trim() === word
		)!;
	const map = document.querySelector<HTMLElement>('section[aria-label="Map"]')!;
	const words = ['Idle', 'Cruise', 'Light acceleration', 'Medium acceleration', 'Loaded', 'Pulls'];
	// Each is added to those before, then taken away again in the same order: no combination comes twice.
	const order = [...words, ...words.slice(0, -1)];
	const times: number[] = [];
	for (const word of order) {
		const before = map.dataset['drawn'];
		const start = performance.now();
		named(word).click();
		while (map.dataset['drawn'] === before) await new Promise((r) => setTimeout(r, 0));
		await new Promise((r) => requestAnimationFrame(() => setTimeout(r, 0)));
		times.push(performance.now() - start);
		await new Promise((r) => setTimeout(r, 120));
	}
	return times;
});
/** Typing over a cell, and over all, of a table of 40 × 40. */
await page.goto(address + (await server.draft()));
await page.waitForLoadState('networkidle');
await page.getByRole('grid').focus();
const edits = await page.evaluate(async () => {
	const grid = document.querySelector<HTMLElement>('[role=grid]')!;
	const key = (k: string, more: object = {}) =>
		grid.dispatchEvent(new KeyboardEvent('keydown', { key: k, bubbles: true, cancelable: true, ...more }));
	const enter = async () => {
		for (const k of '+1%') key(k);
		await new Promise((r) => requestAnimationFrame(() => setTimeout(r, 0)));
		const start = performance.now();
		key('Enter');
		await new Promise((r) => requestAnimationFrame(() => setTimeout(r, 0)));
		return performance.now() - start;
	};
	const times: number[] = [];
	for (let i = 0; i < 9; i++) {
		key('ArrowRight');
		times.push(await enter());
	}
	key('a', { ctrlKey: true });
	const all = await enter();
	return { one: times.sort((a, b) => a - b)[4]!, all };
});
await browser.close();
const stored = await server.stored(id);
await server.end();
console.log(
	JSON.stringify({
		verdictMs,
		filterMs: middle(filters),
		gridMs: edits.one,
		gridAllMs: edits.all,
		slowestAnswerMs,
		...stored,
		queueMs: middle(queue),
		tracesMs: middle(traces),
		zoomMs: middle(zooms)
	})
);
