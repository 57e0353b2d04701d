import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith, type Shape, calibrationWith } from '../testing/hand-made.ts';
import { cylinderView } from './cylinder-view.ts';
import { nitrousBins } from './checks/nitrous.ts';
import { drivetrainView } from './drivetrain-view.ts';

const inPull = (t: number) => t >= 10 && t < 16;
const calibration = (items: object[]) => calibrationWith(items, { vehicle: 'v' });
const prepared = (shapes: Record<string, Shape>, vehicle = vehicleWith(), items: object[] = []) =>
	prepare(handMade(60, 20, shapes), {
		vehicle,
		calibrations: items.length ? [calibration(items)] : []
	});

describe('cylinders side by side', () => {
	const four = (of: (cylinder: number, t: number) => number, id: string) =>
		Object.fromEntries([1, 2, 3, 4].map((c) => [`${id}.cyl${c}`, (t: number) => of(c, t)]));

	it('mixture by 500 rpm against the median of the others', () => {
		const view = cylinderView(
			prepared({ ...pullShapes(), ...four((c, t) => (inPull(t) ? 0.8 * (c === 3 ? 1.06 : 1) : 1), 'lambda') })
		)!;
		expect(view.has).toMatchObject({ lambda: true, knock: false, egt: false });
		expect(view.rpm.every((r) => r % 500 === 0)).toBe(true);
		expect(view.rpm).toContain(4000);
		const at = view.rpm.indexOf(4000);
		expect(view.rows.map((r) => Math.round(r.lambdaPct[at]!))).toEqual([0, 0, 6, 0]);
	});
	it('the highest retard under load, with its engine speed; retard off load does not count', () => {
		const view = cylinderView(
			prepared({
				...pullShapes(),
				...four((c, t) => (c === 2 ? (t >= 13 && t < 13.5 ? 2.5 : t > 40 ? 9 : 0) : 0), 'knockRetard')
			})
		)!;
		expect(view.rows[1]).toMatchObject({ cylinder: 2, knockDeg: 2.5 });
		expect(view.rows[1]!.knockRpm).toBeGreaterThan(4400);
		expect(view.rows[1]!.knockRpm).toBeLessThan(4900);
		expect(view.rows[0]).toMatchObject({ knockDeg: 0, knockRpm: null });
	});
	it('misfires are the rise of the counter, also over a restart; trims come from the revision', () => {
		const count = (t: number) => (t < 20 ? 4 : t < 30 ? 9 : t < 40 ? 0 : 2);
		const view = cylinderView(
			prepared({ ...pullShapes(), ...four((c, t) => (c === 1 ? count(t) : 0), 'misfire') }, vehicleWith(), [
				{
					id: 'fuel.cylTrim',
					kind: 'curve',
					unit: '%',
					x: { channel: 'cylinder', unit: '', points: [1, 2, 3, 4] },
					values: [0, 1.5, 0, -1]
				}
			])
		)!;
		expect(view.rows.map((r) => r.misfires)).toEqual([7, 0, 0, 0]);
		expect(view.rows.map((r) => r.trimPct)).toEqual([0, 1.5, 0, -1]);
	});
	it('nothing by cylinder, no table', () => {
		expect(cylinderView(prepared(pullShapes()))).toBeNull();
	});
});

describe('drivetrain', () => {
	const shapes = (): Record<string, Shape> => ({
		...pullShapes(),
		rpm: (t) => (!inPull(t) ? 2500 : t < 13 ? 2500 + (t - 10) * 667 : 3200 + (t - 13) * 500),
		pedal: (t) => (inPull(t) ? 100 : 18),
		gear: (t) => (t < 13 ? 2 : 3),
		speed: (t) => 40 + t
	});

	it('lists upshifts beside what the calibration asks for, whichever way round its table lies', () => {
		const curve = { id: 'shift.rpm', kind: 'curve', unit: 'rpm', values: [4000, 4400, 4800] };
		const shifted = drivetrainView(
			prepared(shapes(), vehicleWith(), [{ ...curve, x: { channel: 'gear', unit: '', points: [1, 2, 3] } }])
		).shifts;
		expect(shifted).toHaveLength(1);
		expect(shifted[0]).toMatchObject({ gear: 2, full: true, wantedRpm: 4400, pedalPct: 100 });
		expect(shifted[0]!.rpm).toBeGreaterThan(4300);
		const gear = { channel: 'gear', unit: '', points: [1, 2] };
		const pedal = { channel: 'pedal', unit: '%', points: [50, 100] };
		const table = { id: 'shift.rpm', kind: 'map', unit: 'rpm' };
		for (const item of [
			{
				...table,
				x: gear,
				y: pedal,
				values: [
					[3000, 3100],
					[5000, 5200]
				]
			},
			{
				...table,
				x: pedal,
				y: gear,
				values: [
					[3000, 5000],
					[3100, 5200]
				]
			}
		])
			expect(drivetrainView(prepared(shapes(), vehicleWith(), [item])).shifts[0]!.wantedRpm).toBe(5200);
		expect(drivetrainView(prepared(shapes())).shifts[0]!.wantedRpm).toBeNull();
	});
	it('says when the gear is not known', () => {
		const view = drivetrainView(prepared(pullShapes()));
		expect(view).toMatchObject({ gearKnown: false, shifts: [] });
	});
	it('nitrous fuel by solenoid duty: common practice, 215 and 70 against 302 lb/h are 17 short', () => {
		const lb = 0.1259979;
		const bins = nitrousBins(
			prepared({
				...pullShapes(),
				nitrousDuty: (t) => (inPull(t) ? 60 : 0),
				fuelFlow: (t) => (inPull(t) ? 302 * lb : 20),
				fuelFlowBase: (t) => (inPull(t) ? 215 * lb : 20),
				nitrousFuel: (t) => (inPull(t) ? 70 * lb : 0)
			})
		);
		expect(bins).toHaveLength(1);
		expect(bins![0]!.dutyPct).toBe(60);
		expect(bins![0]!.offGs / lb).toBeCloseTo(17, 3);
		expect((bins![0]!.adderGs + bins![0]!.offGs) / lb).toBeCloseTo(87, 3);
	});
});
