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
	it('keeps injectors with data of their own, and a worst day in any of its three ways', () => {
		for (const day of [{ pressureHpa: 1030 }, { altitudeM: 1500 }, { densityAltitudeFt: -2500 }, {}]) {
			const full = parseGoal({
				...goal,
				candidatesCcMin: [
					850,
					{ flowCcMin: 1050, ratedPressureKpa: 400, deadTimeMs: 1.1 },
					{ flowCcMin: 1300, deadTimeMs: [[12, 1.4]] }
				],
				worstDay: { ambientC: -15, ...day }
			});
			expect(goalFrom(fieldsOf(full), full)).toEqual(full);
		}
		const typed = goalFrom({ ...fieldsOf(goal), candidatesCcMin: '1000, 1050 at 400 kPa 1.1 ms' }, goal);
		expect(typed.candidatesCcMin).toEqual([
			1000,
			{ flowCcMin: 1050, ratedPressureKpa: 400, deadTimeMs: 1.1 }
		]);
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
		[{ worstDayAir: '1030' }, 'worstDayC'],
		[{ worstDayC: 'cold' }, 'worstDayC'],
		[{ ethanolPct: '185' }, 'ethanolPct']
	])('%j names its field', (more, where) => {
		expect(() => goalFrom({ ...fieldsOf(goal), ...more }, goal)).toThrow(expect.objectContaining({ where }));
	});
});
