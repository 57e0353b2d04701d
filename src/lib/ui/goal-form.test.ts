import { describe, expect, it } from 'vitest';
import { parseGoal } from '$core/fuelling/goal';
import { fieldsOf, goalFrom } from './goal-form';

const goal = parseGoal({
	schema: 'tanto.goal/1',
	powerHp: 450,
	ethanolPct: 85,
	boostKpa: [
		[3000, 180],
		[6500, 200.5]
	],
	candidatesCcMin: [850, 1050],
	shiftRpm: [
		[1, 6500],
		[2, 6600]
	],
	plugsEachRung: true,
	note: 'as agreed'
});

describe('a goal as a form', () => {
	it('comes back as it went in, with what the form doesn’t show', () => {
		expect(goalFrom(fieldsOf(goal), goal)).toEqual(goal);
	});
	it('leaves out what nobody said, and takes a decimal comma', () => {
		const fields = { ...fieldsOf(parseGoal({ schema: 'tanto.goal/1' })), powerHp: ' 450,5 ' };
		expect(goalFrom(fields, parseGoal({ schema: 'tanto.goal/1' }))).toEqual({
			schema: 'tanto.goal/1',
			powerHp: 450.5
		});
	});
	it.each([
		[{ boostKpa: '3000 180' }, 'boostKpa'],
		[{ boostKpa: '6000: 180, 3000: 200' }, 'boostKpa'],
		[{ shiftRpm: '6500' }, 'shiftRpm'],
		[{ candidatesCcMin: '850, large' }, 'candidatesCcMin'],
		[{ powerHp: 'much' }, 'powerHp'],
		[{ ethanolPct: '185' }, 'ethanolPct']
	])('%j names its field', (more, where) => {
		expect(() => goalFrom({ ...fieldsOf(goal), ...more }, goal)).toThrow(expect.objectContaining({ where }));
	});
});
