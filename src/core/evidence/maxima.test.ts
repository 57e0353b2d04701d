import { describe, expect, it } from 'vitest';
import { profileOf } from '../limits/profile.ts';
import { parseWith } from '../parse.ts';
import { judgeMaximaOf, maximaSchema } from './maxima.ts';

const document = (values: Record<string, number>) => ({
	schema: 'tanto.maxima/1',
	source: 'the controller',
	since: null,
	values
});

describe('maxima typed as numbers', () => {
	it('are held against their limits, the worst says how grave it is', () => {
		// Common practice: injectors at 94 % of their time are a finding without any log.
		const judged = judgeMaximaOf(parseWith(maximaSchema, document({ duty: 94, coolant: 99 })), profileOf());
		expect(judged.severity).toBe('fix');
		expect(judged.maxima.map((m) => [m.id, m.severity, m.limit])).toEqual([
			['duty', 'fix', profileOf().dutyFixPct],
			['coolant', null, profileOf().coolantFixC]
		]);
	});
	it('are within them where none is passed, with a limit of the vehicle too', () => {
		const judged = (limits: Record<string, number>) =>
			judgeMaximaOf(parseWith(maximaSchema, document({ knock: 4 })), profileOf(limits));
		expect(judged({}).severity).toBe('fix');
		expect(judged({ knockFixDeg: 5, knockWatchDeg: 4.5 }).severity).toBeNull();
	});
	it.each([
		[{}, 'type at least one value'],
		[{ duty: 940 }, 'Injector duty: 0 to 200 % can be'],
		[{ boost: 120 }, 'boost']
	])('%j is refused by name', (values, words) => {
		expect(() => parseWith(maximaSchema, document(values as Record<string, number>))).toThrow(words);
	});
	it('say since when as a day, or not at all', () => {
		expect(() => parseWith(maximaSchema, { ...document({ duty: 50 }), since: 'last week' })).toThrow(
			'2026-05-31'
		);
	});
});
