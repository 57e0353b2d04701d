import { describe, expect, it } from 'vitest';
import { JOB_SECTIONS, placeOf } from './sections.ts';

const at = (rest: string) => {
	const { section, page } = placeOf(rest);
	return `${section.id} ${page.title}`;
};

describe('sections of a job', () => {
	it('know where each page stands', () => {
		expect(at('')).toBe('overview Overview');
		expect(at('/logs/3/map')).toBe('logs Newest log');
		expect(at('/revisions/4/release')).toBe('calibration Revisions');
		expect(at('/plan')).toBe('plan Drive plan');
		expect(at('/plugs')).toBe('diagnosis Plugs');
	});
	it('place a comparison beside what it compares', () => {
		expect(at('/compare?a=1&b=2')).toBe('calibration Revisions');
		expect(at('/compare-logs?a=1&b=2')).toBe('logs Newest log');
	});
	it('have no page twice', () => {
		const paths = JOB_SECTIONS.flatMap((s) => s.pages.map((p) => p.path));
		expect(new Set(paths).size).toBe(paths.length);
	});
});
