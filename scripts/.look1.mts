import { chromium } from 'playwright-core';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
await p.goto('http://127.0.0.1:4173/');
await p
	.getByRole('button', { name: /open the demo|sign in|demo/i })
	.first()
	.click()
	.catch(() => {});
await p.waitForTimeout(1500);
const links = await p
	.locator('a[href^="/jobs/"]')
	.evaluateAll((a) => a.map((x) => [x.getAttribute('href'), x.textContent!.trim().slice(0, 60)]));
console.log(JSON.stringify(links));
for (const [n, u] of process.argv.slice(2).map((x) => x.split('=') as [string, string])) {
	await p.goto('http://127.0.0.1:4173' + u);
	await p.waitForTimeout(6000);
	await p.screenshot({ path: `/tmp/shot-${n}.png`, fullPage: n.endsWith('F') });
}
await b.close();
