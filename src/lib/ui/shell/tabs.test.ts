import { describe, expect, it } from 'vitest';
import { tabsOf } from './tabs.ts';

describe('tabs', () => {
	it('of a log carry what was found on their page', () => {
		const tabs = tabsOf(
			'/jobs/3/logs/7/knock',
			{ job: '3', log: '7' },
			{ tabs: { verdict: 'stop', pages: { '/knock': 'fix' } } }
		)!;
		expect(tabs.pages.filter((t) => t.here).map((t) => t.title)).toEqual(['Knock']);
		expect(tabs.pages.filter((t) => t.state).map((t) => `${t.title} ${t.state}`)).toEqual([
			'Verdict stop',
			'Knock fix'
		]);
		expect(tabs.pages.some((t) => t.title === 'Nitrous')).toBe(false);
	});
	it('show nitrous where the vehicle has it', () => {
		const data = { job: { vehicle: { nitrous: { kind: 'dry' } } } };
		expect(tabsOf('/jobs/3/logs/7', { job: '3', log: '7' }, data)!.pages.map((t) => t.title)).toContain(
			'Nitrous'
		);
	});
	it('of a section name their pages; a page alone has none', () => {
		const tabs = tabsOf('/jobs/3/revisions/9/release', { job: '3' }, {})!;
		expect(tabs.label).toBe('Calibration');
		expect(tabs.pages.find((t) => t.here)?.href).toBe('/jobs/3/revisions');
		expect(tabsOf('/jobs/3', { job: '3' }, {})).toBeNull();
		expect(tabsOf('/customers', {}, {})).toBeNull();
	});
});
