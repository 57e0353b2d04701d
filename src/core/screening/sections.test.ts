import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, reportOf, vehicleWith } from '../testing/hand-made.ts';
import { CHECKS, checkOf } from './codes.ts';
import type { Report } from './report.ts';
import { briefOf, changesBetween, changesInWords, stillOpen } from './brief.ts';
import { findingKey } from './types.ts';
import { sectionsOf } from './sections.ts';

const report = (more: Record<string, (t: number) => number> = {}) =>
	reportOf(handMade(60, 20, { ...pullShapes(), ...more }), vehicleWith());
const lean = { 'lambda.b1': (t: number) => (t >= 10 && t < 16 ? 0.8 * 1.06 : 1) };

const between = (before: Report, now: Report) => changesBetween(briefOf(before), briefOf(now));

describe('sections of a log', () => {
	it('every check has its place in exactly one section', () => {
		const all = sectionsOf(report()).flatMap((s) => [
			...s.findings.map((f) => checkOf(f.finding.code)!.title),
			...s.passed.map((p) => p.title),
			...s.missing.flatMap((m) => m.titles)
		]);
		expect([...new Set(all)].sort()).toEqual(CHECKS.map((c) => c.title).sort());
	});
	it('each answers in one line: what was found, else what was seen, else what is missing', () => {
		const sections = sectionsOf(report(lean));
		const of = (id: string) => sections.find((s) => s.id === id)!;
		expect(of('mixture')).toMatchObject({ state: 'fix', answer: 'Lean under load' });
		expect(of('knock').state).toBe('pass');
		expect(of('nitrous').answer).not.toBe('');
		expect(of('cylinders')).toMatchObject({ state: 'not-checked' });
		expect(of('cylinders').missing.map((m) => m.what)).toContain('lambda.cyl1');
	});
	it('a side remark does not make a section pass whose own checks were not made', () => {
		const shapes = pullShapes();
		delete shapes['knockRetard'];
		delete shapes['pw.b1'];
		const r = reportOf(handMade(60, 20, shapes), vehicleWith());
		const of = (id: string) => sectionsOf(r).find((s) => s.id === id)!;
		expect(r.checks.find((c) => c.code === 'rpm.limit')?.outcome).toBe('pass');
		expect(of('supply')).toMatchObject({ state: 'not-checked', passed: [{ title: 'Limiter' }] });
		expect(of('supply').answer).toContain('Not checked: ');
		expect(of('knock')).toMatchObject({
			state: 'not-checked',
			answer: 'Not checked: no knock channel is logged'
		});
	});
	it('findings keep their place in the report', () => {
		const r = report(lean);
		for (const s of sectionsOf(r))
			for (const { finding, index } of s.findings) expect(r.findings[index]).toBe(finding);
	});
});

describe('what is still open after a change', () => {
	it('says how much of it there was before, and leaves out what was answered', () => {
		const worse = briefOf(report({ 'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.8 * 1.12 : 1) }));
		const now = briefOf(report(lean));
		const [open, ...more] = stillOpen(worse, now, new Set());
		expect(more).toEqual([]);
		expect(open).toMatchObject({ key: 'fuel.lean', severity: 'fix', unit: '%' });
		expect(open!.before).toBeCloseTo(12, 0);
		expect(open!.value).toBeCloseTo(6, 0);
		expect(stillOpen(null, now, new Set())[0]!.before).toBeNull();
		expect(stillOpen(worse, now, new Set(['fuel.lean']))).toEqual([]);
	});
});

describe('what changed since the log before', () => {
	it('tells what came, went and changed', () => {
		const fine = report();
		const worse = report({ 'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.8 * 1.09 : 1) });
		expect(between(fine, report(lean))).toEqual([
			{ key: 'fuel.lean', title: 'Lean under load', before: null, now: 'fix', unchecked: false }
		]);
		expect(between(report(lean), worse)[0]).toMatchObject({ before: 'fix', now: 'stop' });
		expect(between(report(lean), fine)[0]).toMatchObject({ before: 'fix', now: null });
		expect(between(fine, fine)).toEqual([]);
	});
	it('what could not be checked this time is not gone', () => {
		const blind = pullShapes();
		delete blind['lambda.b1'];
		const changes = between(report(lean), reportOf(handMade(60, 20, blind), vehicleWith()));
		expect(changes.find((c) => c.key === 'fuel.lean')).toMatchObject({ now: null, unchecked: true });
		expect(changesInWords(changes)).toContain('not checked this time: Lean under load');
		expect(changesInWords(between(report(lean), report()))).toBe('gone: Lean under load');
		expect(changesInWords([])).toBe('');
	});
	it('a finding of another bank or cylinder is another finding', () => {
		expect(findingKey({ code: 'fuel.lean', bank: 2 })).not.toBe(findingKey({ code: 'fuel.lean', bank: 1 }));
		expect(findingKey({ code: 'misfire', cylinder: 3 })).toBe('misfire c3');
	});
});
