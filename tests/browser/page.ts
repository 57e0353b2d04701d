/** Tests that print what the page showed when they fail. */
import { expect, test as base, type Page } from '@playwright/test';

export const test = base.extend({
	page: async ({ page }, use, info) => {
		const said: string[] = [];
		page.on('pageerror', (e) => said.push(`page error: ${e.message}`));
		page.on('console', (m) => {
			if (m.type() === 'error') said.push(`console: ${m.text()}`);
		});
		await use(page);
		if (info.status !== info.expectedStatus)
			console.log(
				`--- ${page.url()}\n${said.join('\n')}\n${(
					await page
						.locator('body')
						.innerText()
						.catch(() => '')
				).slice(0, 3000)}\n---`
			);
		else expect(said.filter((s) => !/status of 4\d\d/.test(s))).toEqual([]);
	}
});

export { expect };

/** The interface is drawn by the server first; what it does works once it has been taken over in the browser. */
export async function open(page: Page, path: string): Promise<void> {
	await page.goto(path);
	await page.waitForLoadState('networkidle');
}
