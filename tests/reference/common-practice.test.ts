/**
 * The arithmetic of the job against worked figures. Those marked "common practice" are facts of the trade without a published source;
 * the others follow from the definitions beside them.
 */
import { calibrationWith } from '../../src/core/testing/hand-made.ts';
import { portDutyPct } from '../../src/core/evidence/duty.ts';
import { describe, expect, it } from 'vitest';
import { compare } from '../../src/core/calibration/compare.ts';
import { type Calibration } from '../../src/core/calibration/document.ts';
import { effectiveFuel } from '../../src/core/calibration/effective-fuel.ts';
import { convert } from '../../src/core/units/units.ts';

function pulseWidth(
	referenceMs: number,
	tablePct: number,
	trimPct: number,
	more: object[] = []
): Calibration {
	return calibrationWith(
		[
			{ id: 'fuel.referencePulse', kind: 'scalar', unit: 'ms', value: referenceMs },
			{
				id: 'fuel.table',
				kind: 'map',
				unit: '%',
				x: { channel: 'rpm', points: [3000, 4000] },
				y: { channel: 'map', points: [100, 150] },
				values: [
					[tablePct, tablePct],
					[tablePct, tablePct]
				]
			},
			{ id: 'fuel.trim', kind: 'scalar', unit: '%', value: trimPct },
			...more
		],
		{ name: 'worked example', fuelModel: 'pulse-width' }
	);
}

describe('effective fuel, common practice', () => {
	it('constant 35 to 16 ms under a table from 36 to 71 %: 12.6 to 11.4 ms, −9.8 %', () => {
		const f = effectiveFuel(pulseWidth(35, 36, 0), pulseWidth(16, 71, 0))!;
		expect(f.percent[0]![0]).toBeCloseTo(-9.8, 1);
	});
	it('and −16.1 % with the global trim from 15 to 7 %', () => {
		const f = effectiveFuel(pulseWidth(35, 36, 15), pulseWidth(16, 71, 7))!;
		expect(f.percent[1]![1]).toBeCloseTo(-16.1, 1);
	});
	it('judges the items by what comes out of them together: riskier, not one safe and one risky change', () => {
		const { changes, comparable } = compare(pulseWidth(35, 36, 15), pulseWidth(16, 71, 7));
		expect(comparable).toBe('all');
		expect(changes.map((c) => [c.item, c.class])).toEqual([
			['fuel.referencePulse', 'riskier'],
			['fuel.table', 'riskier'],
			['fuel.trim', 'riskier']
		]);
	});
	it('a constant halved under a doubled table is the same fuel', () => {
		const { changes, effectiveFuel: fuel } = compare(pulseWidth(20, 40, 0), pulseWidth(10, 80, 0));
		expect(fuel!.percent.flat()).toEqual([0, 0, 0, 0]);
		expect(changes.every((c) => c.class === 'neutral')).toBe(true);
	});
});

describe('injector duty, common practice', () => {
	it('is 82 to 85 % at 15.2 to 15.7 ms and 6500 rpm', () => {
		expect(portDutyPct(15.2, 6500, 1)).toBeCloseTo(82.3, 1);
		expect(portDutyPct(15.7, 6500, 1)).toBeCloseTo(85.0, 1);
	});
	it('is 100 % when the pulse is as long as the 720° cycle', () => {
		// By definition: at 6000 rpm two turns take 20 ms.
		expect(portDutyPct(20, 6000, 1)).toBe(100);
	});
});

describe('pressures that the trade talks of', () => {
	it('15 inHg of vacuum against 10 is 17 kPa of manifold pressure', () => {
		expect(convert(5, 'inHg', 'kPa')).toBeCloseTo(16.93, 2);
	});
	it('12 psi where 16 is set is 27.6 kPa short', () => {
		expect(convert(16, 'psi', 'kPa') - convert(12, 'psi', 'kPa')).toBeCloseTo(27.58, 2);
	});
});

describe('comparability guards', () => {
	const offset = (deg: number) => [
		{ id: 'trigger.offset', kind: 'setting', value: deg },
		{
			id: 'spark.table',
			kind: 'map',
			x: { channel: 'rpm', points: [1000] },
			y: { channel: 'map', points: [50] },
			values: [[20]]
		}
	];
	it('common practice: trigger offsets of −355 and +355 make timing tables incomparable', () => {
		const c = compare(pulseWidth(16, 50, 0, offset(-355)), pulseWidth(16, 50, 0, offset(355)));
		expect(c.comparable).toBe('partly');
		expect(c.guards).toMatchObject([{ item: 'trigger.offset', affects: ['spark.table'] }]);
	});
	it('a pressure sensor of another scaling touches every table with pressure on an axis', () => {
		const sensor = (value: string) => [{ id: 'sensor.map', kind: 'setting', value }];
		const c = compare(pulseWidth(16, 50, 0, sensor('3 bar')), pulseWidth(16, 50, 0, sensor('4 bar')));
		expect(c.guards[0]).toMatchObject({ item: 'sensor.map', affects: ['fuel.table'] });
	});
	it('different fuel models are not comparable, and have no effective fuel', () => {
		const b = { ...pulseWidth(16, 50, 0), fuelModel: 'speed-density' as const };
		const c = compare(pulseWidth(16, 50, 0), b);
		expect(c.comparable).toBe('none');
		expect(c.effectiveFuel).toBeNull();
	});
	it('different injectors compare mass instead of pulse', () => {
		const flow = (v: number) => [{ id: 'injector.flow', kind: 'scalar', value: v }];
		// The same pulse through injectors of double the flow is double the fuel.
		const c = compare(pulseWidth(16, 50, 0, flow(400)), pulseWidth(16, 50, 0, flow(800)));
		expect(c.comparable).toBe('partly');
		expect(c.effectiveFuel!.percent[0]![0]).toBeCloseTo(100, 6);
	});
});
