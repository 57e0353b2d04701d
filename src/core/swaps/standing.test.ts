import { describe, expect, it } from 'vitest';
import type { Swap } from './document.ts';
import type { SwapAnswer } from './answer.ts';
import type { MovedAnswer } from './moved-sensor.ts';
import { standingOf, type Tested } from './standing.ts';

const swap = (kind: Swap['kind'], more: object = {}): Swap =>
	({ schema: 'tanto.swap/1', kind, ...more }) as Swap;
const answer = (a: SwapAnswer['answer'], why: string = a): SwapAnswer =>
	({ answer: a, why, next: [`after ${a}`], before: null, after: null, cells: 12 }) as unknown as SwapAnswer;
const moved = (a: MovedAnswer['answer'], pct: number): Tested => ({
	swap: swap('lambda-moved', { from: 'bank1' }),
	answer: {
		answer: a,
		bank2AgainstBank1: { pct, se: 0.4, worstBand: 'loaded' },
		cells: 20,
		seenTo: { rpm: 6500, mapKpa: 175 },
		why: a === 'measured' ? 'Bank 2 wants 6 % more.' : 'No difference larger than 0.8 %.',
		next: []
	} as MovedAnswer
});

describe('what the tests of a difference say together', () => {
	it('the part that it moved with is the cause', () => {
		const s = standingOf([
			{ swap: swap('injectors-side-to-side'), answer: answer('moved', 'the injectors') }
		]);
		expect(s).toMatchObject({ cause: 'the injectors', ruledOut: [], next: ['after moved'] });
	});
	it('what stayed is ruled out, and the cheapest that was not tried comes next', () => {
		const s = standingOf([{ swap: swap('injectors-side-to-side'), answer: answer('stayed') }]);
		expect(s.cause).toBeNull();
		expect(s.ruledOut).toEqual(['the injectors']);
		expect(s.next[0]).toContain('swap the lambda sensors');
	});
	it('names no swap of parts that the vehicle doesn’t have', () => {
		const { next } = standingOf(
			[{ swap: swap('repair'), answer: answer('stayed') }],
			['lambda-moved', 'repair']
		);
		expect(next.join()).not.toMatch(/side to side/);
		expect(next.join()).toContain('leak');
	});
	it('a test without its log waits for it', () => {
		expect(standingOf([{ swap: swap('injectors-side-to-side'), answer: null }]).next).toEqual([
			expect.stringContaining('log with')
		]);
	});
	it('gone after a swap names nothing, after a repair it does', () => {
		expect(standingOf([{ swap: swap('injectors-side-to-side'), answer: answer('gone') }]).cause).toBeNull();
		const mended = {
			swap: swap('repair', { what: 'the gasket' }),
			answer: answer('gone', 'the gasket it was')
		};
		expect(standingOf([mended]).cause).toBe('the gasket it was');
	});
});

describe('a sensor that was moved to the bank that has none', () => {
	it('has seen it, as far as it was driven, when it found no difference', () => {
		expect(standingOf([moved('undecided', 0.8)]).seen).toBe(
			'The other bank was seen with the moved sensor, up to 6500 rpm and 175 kPa: No difference larger than 0.8 %.'
		);
	});
	it('settles nothing when it measured one, or could not compare', () => {
		expect(standingOf([moved('measured', 6)]).seen).toBeNull();
		expect(standingOf([moved('not-comparable', 0)]).seen).toBeNull();
		expect(standingOf([moved('undecided', 0.8), moved('measured', 6)]).seen).toBeNull();
	});
});
