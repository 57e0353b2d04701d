/** Sensors that can't be right by themselves, on hand-made logs. */
import { describe, expect, it } from 'vitest';
import { parseCalibration } from '../../calibration/document.ts';
import { findingOf, handMade, reportOf, vehicleWith, type Shape } from '../../testing/hand-made.ts';

const car = vehicleWith({}, { sensors: { mapFullScaleKpa: 250 } });
/** Up and down between 2000 and 6000 rpm with the load, for 100 s. */
const wave = (t: number) => 0.5 - 0.5 * Math.cos((2 * Math.PI * t) / 25);
const shapes = (more: Record<string, Shape> = {}): Record<string, Shape> => ({
	rpm: (t) => 2000 + 4000 * wave(t),
	map: (t) => 40 + 60 * wave(t),
	tps: (t) => 20 + 75 * wave(t),
	ect: (t) => 88 + Math.sin(t / 9),
	'lambda.b1': (t) => 1 + 0.02 * Math.sin(t),
	spark: (t) => 30 - 10 * wave(t),
	...more
});
const flat = (deg: number) =>
	parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'flat',
		fuelModel: 'speed-density',
		items: [
			{
				id: 'spark.table',
				kind: 'map',
				x: { channel: 'rpm', points: [1000, 7000] },
				y: { channel: 'map', unit: 'kPa', points: [20, 120] },
				values: [
					[deg, deg],
					[deg, deg]
				]
			}
		]
	});
const sensor = (more: Record<string, Shape>, calibration?: ReturnType<typeof flat>) =>
	findingOf(reportOf(handMade(100, 20, shapes(more)), car, calibration ? [calibration] : []), 'log.sensor');

describe('log.sensor', () => {
	it('says nothing of sensors that move with the engine', () => {
		expect(sensor({})).toBeUndefined();
	});
	it('a reading that stands while the engine moves is stuck', () => {
		for (const [id, word] of [
			['map', 'Manifold pressure'],
			['lambda.b1', 'Lambda'],
			['spark', 'Timing']
		] as const) {
			const f = sensor({ [id]: () => (id === 'lambda.b1' ? 0.98 : 50) });
			expect(f, id).toMatchObject({ severity: 'fix', channels: [id] });
			expect(f!.summary, id).toContain(word);
			expect(f!.summary, id).toContain("doesn't change");
		}
	});
	it('timing that stands where its table does is what was asked for; elsewhere it is stuck', () => {
		expect(sensor({ spark: () => 6 }, flat(6))).toBeUndefined();
		expect(sensor({ spark: () => 6 }, flat(20))).toMatchObject({ channels: ['spark'] });
	});
	it('a pressure at full scale under load is at its end', () => {
		expect(sensor({ map: (t) => Math.min(250, 40 + 260 * wave(t)) })).toMatchObject({
			severity: 'stop',
			channels: ['map']
		});
	});
	it('what is physically impossible is said with its share', () => {
		const f = sensor({ ect: (t) => (t > 50 ? 400 : 88 + Math.sin(t)) });
		expect(f).toMatchObject({ severity: 'fix', channels: ['ect'] });
		expect(f!.summary).toContain('50 %');
	});
	it('a temperature that jumps for single samples has a bad contact', () => {
		const spikes = [10, 30, 50, 70];
		const f = sensor({
			ect: (t) => (spikes.some((s) => Math.abs(t - s) < 0.02) ? 20 : 88 + Math.sin(t / 9))
		});
		expect(f!.summary).toContain('jumps 4 times');
	});
});
