import { chromium } from 'playwright-core';
const b = await chromium.launch({
	executablePath: '/usr/bin/chromium',
	args: ['--no-sandbox', '--disable-gpu']
});
const [theme, ...paths] = process.argv.slice(2);
const mobile = process.env.PHONE === '1';
const c = await b.newContext({
	viewport: mobile ? { width: 390, height: 844 } : { width: 1280, height: 800 },
	colorScheme: theme as 'dark' | 'light'
});
const p = await c.newPage();
p.on('pageerror', (e) => console.log('pageerror', e.message));
await p.goto('http://127.0.0.1:4173/sign-in');
await p.getByRole('button', { name: 'Sign in as the demo tuner' }).click();
await p.getByRole('link', { name: 'Take on a job' }).first().waitFor();
for (const [i, path] of paths.entries()) {
	const [url, script] = path.split('::');
	if (url) await p.goto('http://127.0.0.1:4173' + url);
	await p.waitForLoadState('networkidle');
	if (script) await eval(`(async()=>{${script}})()`);
	await p.waitForTimeout(700);
	await p.screenshot({ path: `/tmp/shot${i}.png`, fullPage: process.env.FULL === '1' });
	console.log(i, p.url(), await p.title());
}
await b.close();
