import { describe, expect, it } from 'vitest';
import type { Report } from '../screening/report.ts';
import type { Severity } from '../screening/types.ts';
import { CODES } from '../screening/codes.ts';
import { ADVICE_KINDS } from '../screening/check.ts';
import { adviceText, advisedKind } from './advice.ts';

const found = (code: string, severity: Severity = 'fix') => ({
	code,
	severity,
	title: `Title of ${code}`,
	summary: `Summary of ${code}.`,
	channels: [],
	causes: ['a hose', 'a clamp'],
	next: ['look']
});
const report = (...findings: ReturnType<typeof found>[]) => ({ findings }) as unknown as Report;

describe('advice without a calibration', () => {
	it.each([
		['boost.under', 'repair'],
		['misfire', 'repair'],
		['cyl.egt', 'repair'],
		['inj.duty', 'part'],
		['temp.intake', 'part'],
		['sensor.ethanol', 'fuel'],
		['log.coverage', 'log'],
		['fuel.lean', 'other']
	])('%s asks for %s', (code, kind) => {
		expect(advisedKind(report(found(code)))).toBe(kind);
	});
	it('the worst finding decides; what is only watched asks for nothing', () => {
		expect(advisedKind(report(found('fuel.lean', 'stop'), found('inj.duty'), found('misfire')))).toBe('part');
		expect(advisedKind(report(found('inj.duty', 'watch')))).toBe('other');
		expect(advisedKind(null)).toBe('other');
	});
	it('every code asks for one of the kinds', () => {
		for (const code of CODES) expect(ADVICE_KINDS).toContain(advisedKind(report(found(code))));
	});
	it('words name what was seen and what to do, and nothing of another kind', () => {
		const text = adviceText('repair', report(found('boost.under'), found('inj.duty')));
		expect(text).toContain(
			'Title of boost.under. Summary of boost.under. What helps: look at, in this order: a hose and a clamp.'
		);
		expect(text).not.toContain('inj.duty');
		expect(text).toMatch(/^No new file this time/);
	});
	it('injectors at their end: larger ones, or less ethanol (common practice: from about 60 % on nearly all is there)', () => {
		expect(adviceText('part', report(found('inj.reserve')))).toContain('less ethanol: from about 60 %');
	});
	it('without a log there are still words', () => {
		for (const kind of ADVICE_KINDS) expect(adviceText(kind, null)).toContain('No new file');
	});
});
