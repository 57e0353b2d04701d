import { prepare } from '../prepare.ts';
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith, type Shape, calibrationWith } from '../../testing/hand-made.ts';
import { knockView } from './knock-view.ts';

const calibration = calibrationWith([
	{
		id: 'spark.table',
		kind: 'map',
		x: { channel: 'rpm', points: [2000, 4000, 4500, 6000] },
		y: { channel: 'airmass', points: [0.4, 0.9, 1.4] },
		values: [
			[30, 32, 33, 34],
			[24, 26, 27, 28],
			[14, 17, 18, 20]
		]
	}
]);
/** Common practice: 3.2° pulled at 4322 rpm and 1.36 g per cylinder. */
const event: Shape = (t) => (t >= 12.7 && t < 12.9 ? 1.4 : t >= 12.9 && t < 13.05 ? 3.2 : 0);
const view = (more: Record<string, Shape> = {}) =>
	knockView(
		prepare(
			handMade(30, 100, {
				...pullShapes(),
				rpm: (t) => (t >= 10 && t < 16 ? 2388 + ((t - 10) / 6) * 4000 : 2500),
				airmass: (t) => (t >= 10 && t < 16 ? 1.36 : 0.3),
				spark: () => 14,
				'knockRetard.cyl1': () => 0,
				'knockRetard.cyl3': event,
				knockRetard: event,
				...more
			}),
			{ vehicle: vehicleWith(), calibrations: [calibration] }
		)
	);

describe('the view of knock', () => {
	it('says where the retard rose to its peak, and the cell of the timing table', () => {
		const [worst] = view()!.episodes;
		expect(worst).toMatchObject({ pull: 1, cylinder: 3, loaded: true, sparkDeg: 14 });
		expect(worst!.peakDeg).toBeCloseTo(3.2, 5);
		expect(worst!.rpm!).toBeCloseTo(4322, -1);
		expect(worst!.airmassG).toBeCloseTo(1.36, 2);
		expect(worst!.cell).toMatchObject({ x: 4500, y: 1.4, xChannel: 'rpm', yChannel: 'airmass' });
		expect(worst!.cell!.tableDeg).toBeGreaterThan(17);
		expect(worst!.cell!.tableDeg).toBeLessThan(18.5);
	});
	it('gives the reason of the class in words', () => {
		expect(view()!.episodes[0]).toMatchObject({ shape: 'real' });
		expect(view()!.episodes[0]!.because).toContain('2 steps up');
	});
	it('tells what the monitor heard of it', () => {
		expect(view()!.episodes[0]!.monitor).toBeNull();
		expect(view({ knockMonitor: () => 5 })!.episodes[0]!.monitor).toBe(0);
		expect(view({ knockMonitor: event })!.hasMonitor).toBe(true);
	});
	it('shows where it was driven and stayed quiet', () => {
		const v = view({ knockRetard: () => 0, 'knockRetard.cyl3': () => 0 })!;
		expect(v.episodes).toHaveLength(0);
		expect(v.loadedRpm![1]).toBeGreaterThan(6300);
		expect(v.loadedKpa).toEqual([170, 170]);
	});
});
