import { plain } from '../format.ts';
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, reportOf, vehicleWith } from '../testing/hand-made.ts';
import { profileOf } from '../limits/profile.ts';
import { CODES } from './codes.ts';
import { goOrNot, readinessLines, withOwnBands } from './readiness-sheet.ts';

function sheet(more: Record<string, (t: number) => number> = {}, vehicle = vehicleWith()) {
	const report = reportOf(handMade(60, 20, { ...pullShapes(), ...more }), vehicle);
	const lines = readinessLines(report, vehicle, profileOf());
	return { lines, verdict: goOrNot(report, lines) };
}

describe('readiness sheet', () => {
	it('every item is a check that exists', () => {
		for (const l of sheet().lines) expect(CODES).toContain(l.code);
	});
	it("doesn't go while one item says so, and names it", () => {
		const { lines, verdict } = sheet({ vbat: () => 11.5 });
		expect(lines.find((l) => l.code === 'volt.supply')).toMatchObject({ state: 'no-go' });
		expect(verdict).toEqual({ go: false, why: "Don't go: Supply down to 11.5 V." });
	});
	it("doesn't go on a danger that the sheet has no line for, or that another finding carries", () => {
		const over = sheet({ boostTarget: () => 140 });
		expect(over.verdict).toMatchObject({ go: false });
		expect(over.verdict.why).toContain('Boost');
		const sag = sheet(
			{
				fuelPressure: (t) => (t >= 10 && t < 16 ? 310 : 245),
				'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.87 : 1)
			},
			vehicleWith({}, { injectors: { pressureReference: 'manifold', basePressureKpa: 300 } })
		);
		expect(sag.verdict.go).toBe(false);
		expect(sag.lines.find((l) => l.code === 'fuel.lean')!.state).toBe('look');
	});
	it('goes with what was seen, and says what was not', () => {
		const { verdict } = sheet({ vbat: () => 14.1 });
		expect(verdict.go).toBe(true);
		expect(verdict.why).toContain('oil pressure');
		expect(verdict.why).not.toContain('supply,');
	});
	it('tells what was not driven from what was not recorded', () => {
		const { lines } = sheet();
		const state = (code: string) => lines.find((l) => l.code === code)!.state;
		expect(state('oil.pressure')).toBe('not-recorded');
		const still = reportOf(
			handMade(60, 20, { ...pullShapes(), rpm: () => 800, tps: () => 2, map: () => 40 }),
			vehicleWith()
		);
		const unpulled = readinessLines(still, vehicleWith(), profileOf());
		expect(unpulled.find((l) => l.code === 'fuel.lean')!.state).toBe('not-driven');
	});
	it('looks at what is outside the own band of this car, within every limit', () => {
		const { lines } = sheet({ vbat: () => 14.1 });
		const seen = withOwnBands(lines, new Set(['volt.supply', 'oil.pressure']));
		expect(seen.find((l) => l.code === 'volt.supply')!.state).toBe('look');
		expect(seen.find((l) => l.code === 'oil.pressure')!.state).toBe('not-recorded');
		const report = reportOf(handMade(60, 20, { ...pullShapes(), vbat: () => 14.1 }), vehicleWith());
		expect(goOrNot(report, seen).why).toMatch(/Look at .*supply/);
	});
	it("holds the coolant against the vehicle's own band", () => {
		const { lines } = sheet({}, vehicleWith({}, { baselines: { coolantIdleC: [76, 86] } }));
		expect(plain(lines.find((l) => l.code === 'temp.coolant')!.against)).toContain('76 °C to 86 °C');
	});
});
