import { describe, expect, it } from 'vitest';
import { compare } from '../calibration/compare.ts';
import { calibrationWith, vehicleWith } from '../testing/hand-made.ts';
import { rescale } from './rescale.ts';

const axis = { channel: 'rpm', unit: 'rpm', points: [1000, 3000, 6000] };
const load = { channel: 'map', unit: 'kPa', points: [40, 100, 200] };
const table = (id: string, v: number, more: object = {}) => ({
	id,
	kind: 'map',
	x: axis,
	y: load,
	values: Array.from({ length: 3 }, () => [v, v, v]),
	...more
});
const dead = {
	id: 'injector.deadTime',
	kind: 'curve',
	unit: 'ms',
	decimals: 3,
	x: { channel: 'vbat', unit: 'V', points: [10, 12, 14] },
	values: [1.8, 1.2, 0.9]
};
const small = vehicleWith({}, { injectors: { flowCcMin: 1050 } });
const large = vehicleWith(
	{},
	{
		injectors: {
			flowCcMin: 1300,
			deadTimeMs: [
				[10, 2],
				[14, 1]
			]
		}
	}
);

describe('other injectors', () => {
	it('1050 to 1300 cm³/min: the same fuel comes out, and nothing of it is riskier', () => {
		const before = calibrationWith(
			[table('fuel.table', 80), { id: 'injector.flow', kind: 'scalar', unit: 'cc/min', value: 1050 }, dead],
			{ fuelModel: 'speed-density' }
		);
		const r = rescale(before, small, large);
		expect(r.effectiveFuelPct).toEqual({ min: 0, max: 0 });
		expect(r.changes.find((c) => c.item === 'injector.flow')!.cells).toEqual([
			{ x: 0, y: 0, from: 1050, to: 1300 }
		]);
		expect(r.changes.find((c) => c.item === 'injector.deadTime')!.cells.map((c) => c.to)).toEqual([
			2, 1.5, 1
		]);
		expect(compare(before, r.next).changes.filter((c) => c.class === 'riskier')).toEqual([]);
		expect(r.reset[0]).toContain('learned fuel trims');
	});
	it('where the pulse is written it goes with the flow, by its one number or cell by cell', () => {
		const byNumber = calibrationWith(
			[
				table('fuel.table', 100),
				{ id: 'fuel.referencePulse', kind: 'scalar', unit: 'ms', decimals: 3, value: 13 }
			],
			{ fuelModel: 'pulse-width' }
		);
		const number = rescale(byNumber, small, large);
		expect(number.changes).toHaveLength(1);
		expect(number.changes[0]!.cells[0]!.to).toBeCloseTo((13 * 1050) / 1300, 3);
		expect(Math.abs(number.effectiveFuelPct!.min)).toBeLessThan(0.01);
		const byCell = rescale(
			calibrationWith([table('fuel.table', 100, { decimals: 2 })], { fuelModel: 'pulse-width' }),
			small,
			large
		);
		expect(byCell.changes[0]!.cells).toHaveLength(9);
		expect(byCell.changes[0]!.cells[0]!.to).toBe(80.77);
	});
	it('a rating at another pressure is another flow: √(300/400) of it at the rail', () => {
		const rated = vehicleWith(
			{},
			{ injectors: { flowCcMin: 1300, ratedPressureKpa: 400, basePressureKpa: 300 } }
		);
		const before = calibrationWith([{ id: 'injector.flow', kind: 'scalar', value: 1050, decimals: 1 }], {
			fuelModel: 'maf'
		});
		const r = rescale(
			before,
			vehicleWith({}, { injectors: { flowCcMin: 1050, ratedPressureKpa: 300, basePressureKpa: 300 } }),
			rated
		);
		expect(r.changes[0]!.cells[0]!.to).toBeCloseTo(1300 * Math.sqrt(0.75), 0);
	});
	it('without a flow, or a place to put it, is refused by name', () => {
		const bare = calibrationWith([table('fuel.table', 80)], { fuelModel: 'speed-density' });
		expect(() => rescale(bare, vehicleWith(), large)).toThrow('old injectors: injectors.flowCcMin');
		expect(() => rescale(bare, small, large)).toThrow('the calibration has no injector flow');
	});
});
