/** Two banks with the same fault are one finding about both. */
import { describe, expect, it } from 'vitest';
import { ofBanks, whose, type OfBanks } from './banks.ts';
import type { Raised, Severity } from './types.ts';

type Facts = OfBanks & { pct: number; transient?: boolean };
const of = (bank: 1 | 2, value: number, severity: Severity = 'fix', more: object = {}): Raised<Facts> => ({
	severity,
	facts: { pct: value },
	value,
	bank,
	ranges: [{ from: 10 * bank, to: 10 * bank + 12 }],
	channels: [`lambda.b${bank}`, 'rpm'],
	...more
});

describe('findings of two banks', () => {
	it('that one cause explains are one, with the facts of the worse', () => {
		const [only, ...more] = ofBanks([of(1, 5), of(2, 6)], 2);
		expect(more).toEqual([]);
		expect(only).toMatchObject({
			facts: { pct: 6, both: true },
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
		const other = of(2, 5, 'fix', { facts: { pct: 5, transient: true } });
		const alike = (a: Facts, b: Facts) => a.transient === b.transient;
		expect(ofBanks([of(1, 5), other], 2, alike)).toHaveLength(2);
		expect(ofBanks([of(1, 5), of(2, 5)], 2, alike)).toHaveLength(1);
	});
	it('one alone stays what it is, and none is none', () => {
		const one = of(2, 5);
		expect(ofBanks([one], 2)).toEqual([one]);
		expect(ofBanks([], 2)).toEqual([]);
	});
	it('ranges that touch nothing stay apart', () => {
		const [f] = ofBanks([of(1, 5), of(2, 5, 'fix', { ranges: [{ from: 90, to: 91 }] })], 2);
		expect(f!.ranges).toEqual([
			{ from: 10, to: 22 },
			{ from: 90, to: 91 }
		]);
	});
	it('are told of by their number, or as both, or as the one there is', () => {
		expect(whose(of(2, 5), 'the engine')).toBe('bank 2');
		expect(whose(ofBanks([of(1, 5), of(2, 5)], 2)[0]!, 'the engine')).toBe('both banks');
		const { bank: _, ...one } = of(1, 5);
		expect(whose(one, 'the engine')).toBe('the engine');
	});
});
