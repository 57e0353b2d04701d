import { describe, expect, it } from 'vitest';
import { CHECKS } from './codes.ts';
import { LOG_PAGES, type LogPage } from './log-pages.ts';
import { worstByPage } from './worst-by-page.ts';

describe('pages of a log', () => {
	it('carry the worst finding that they explain; a note marks none', () => {
		expect(
			worstByPage([
				{ code: 'fuel.lean', severity: 'fix' },
				{ code: 'bank.mismatch', severity: 'stop' },
				{ code: 'cyl.knock', severity: 'watch' },
				{ code: 'knock.timing', severity: 'note' },
				{ code: 'traction', severity: 'note' }
			])
		).toEqual({ '/map': 'stop', '/knock': 'watch', '/cylinders': 'watch' });
		expect(worstByPage([])).toEqual({});
	});

	it('explain every check but those of the log as a whole', () => {
		const explained = (c: (typeof CHECKS)[number]) =>
			(LOG_PAGES as readonly LogPage[]).some(
				(p) => p.sections.includes(c.section) || p.also?.some((code) => code === c.code)
			);
		expect(CHECKS.filter((c) => !explained(c)).map((c) => c.section)).toEqual(
			CHECKS.filter((c) => !explained(c)).map(() => 'fit')
		);
	});
});
