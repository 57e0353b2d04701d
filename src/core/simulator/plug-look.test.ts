import { describe, expect, it } from 'vitest';
import { fuelOf } from '../plugs/rule.ts';
import { plugLook } from './plug-look.ts';

describe('how the plugs of the stand-in look', () => {
	const look = (leanPct: number, overDeg = 0) => plugLook({ cylinder: 3, leanPct, overDeg });
	it('asks for fuel where fuel is missing, and for none where it is not', () => {
		expect([-2, 0, 0.8, 1.2, 2, 4].map((l) => fuelOf(look(l)))).toEqual([0, 0, 1, 1, 2, 2]);
	});
	it('shows timing by its heat mark, and a lean hole by both', () => {
		expect(look(0, 1).mark).toBe('past-bend');
		expect(look(0, -1).mark).toBe('short');
		expect(look(2, 0).mark).toBe('past-bend');
		expect(look(0, 7).flags).toEqual(['specks']);
		expect(look(-8).flags).toEqual(['sooty']);
	});
});
