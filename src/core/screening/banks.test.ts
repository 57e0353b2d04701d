/** Two banks with the same fault are one finding about both. */
import { describe, expect, it } from 'vitest';
import { ofBanks, type OfBank } from './banks.ts';
import type { Severity } from './types.ts';

const of = (bank: 1 | 2, value: number, severity: Severity = 'fix', more: object = {}): OfBank => ({
	finding: {
		code: 'fuel.lean',
		severity,
		title: `Bank ${bank} lean`,
		summary: `bank ${bank} by ${value} %`,
		value,
		bank,
		ranges: [{ from: 10 * bank, to: 10 * bank + 12 }],
		channels: [`lambda.b${bank}`, 'rpm'],
		causes: [],
		next: [],
		...more
	},
	both: { title: 'Both banks lean', summary: `both banks by ${value} %` }
});

describe('findings of two banks', () => {
	it('that one cause explains are one, in the words of the worse', () => {
		const [only, ...more] = ofBanks([of(1, 5), of(2, 6)], 2);
		expect(more).toEqual([]);
		expect(only).toMatchObject({
			title: 'Both banks lean',
			summary: 'both banks by 6 %',
			value: 6,
			channels: ['lambda.b1', 'rpm', 'lambda.b2'],
			ranges: [{ from: 10, to: 32 }]
		});
		expect(only).not.toHaveProperty('bank');
	});
	it('severity goes before size', () => {
		expect(ofBanks([of(1, 5, 'stop'), of(2, 6, 'fix')], 2)[0]).toMatchObject({ severity: 'stop', value: 5 });
	});
	it('signs don’t matter for what is worse: richer is worse among the rich', () => {
		expect(ofBanks([of(1, -5), of(2, -6)], 2)[0]).toMatchObject({ value: -6 });
	});
	it('farther apart, or of another kind, stay two', () => {
		expect(ofBanks([of(1, 5), of(2, 8)], 2).map((f) => f.bank)).toEqual([1, 2]);
		const other = { ...of(2, 5), kind: 'transient' };
		expect(ofBanks([of(1, 5), other], 2)).toHaveLength(2);
	});
	it('one alone stays what it is, and none is none', () => {
		const one = of(2, 5);
		expect(ofBanks([one], 2)).toEqual([one.finding]);
		expect(ofBanks([], 2)).toEqual([]);
	});
	it('ranges that touch nothing stay apart', () => {
		const [f] = ofBanks([of(1, 5), of(2, 5, 'fix', { ranges: [{ from: 90, to: 91 }] })], 2);
		expect(f!.ranges).toEqual([
			{ from: 10, to: 22 },
			{ from: 90, to: 91 }
		]);
	});
});
