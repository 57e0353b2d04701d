import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, reportOf, vehicleWith } from '../testing/hand-made.ts';
import { profileOf } from './profile.ts';
import { CODES } from './codes.ts';
import { goOrNot, readinessLines } from './readiness-sheet.ts';

const lines = (more: Record<string, (t: number) => number> = {}, vehicle = vehicleWith()) =>
	readinessLines(reportOf(handMade(60, 20, { ...pullShapes(), ...more }), vehicle), vehicle, profileOf());

describe('readiness sheet', () => {
	it('every item is a check that exists', () => {
		for (const l of lines()) expect(CODES).toContain(l.code);
	});
	it("doesn't go while one item says so, and names it", () => {
		const bad = lines({ vbat: () => 11.5 });
		expect(bad.find((l) => l.code === 'volt.supply')).toMatchObject({ state: 'no-go' });
		expect(goOrNot(bad)).toEqual({ go: false, why: "Don't go: supply." });
	});
	it('goes with what was seen, and says what was not', () => {
		const seen = goOrNot(lines({ vbat: () => 14.1 }));
		expect(seen.go).toBe(true);
		expect(seen.why).toContain('oil pressure');
		expect(seen.why).not.toContain('supply,');
	});
	it("holds the coolant against the vehicle's own band", () => {
		const own = vehicleWith({}, { baselines: { coolantIdleC: [76, 86] } });
		expect(lines({}, own).find((l) => l.code === 'temp.coolant')!.against).toContain('76 to 86');
	});
});
