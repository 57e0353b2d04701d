import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith, type Shape } from '../testing/hand-made.ts';
import { baselineText, measuredBaselines } from './baselines.ts';

const pull = pullShapes();
/** A pull, then half a minute of warm idle. */
const drive: Record<string, Shape> = {
	...pull,
	rpm: (t) => (t < 30 ? pull['rpm']!(t) : 850),
	map: (t) => (t < 30 ? (t >= 10 && t < 16 ? 150 + (t - 10) * 5 : 45) : 37.5),
	tps: (t) => (t < 30 ? (t >= 10 && t < 16 ? 96 : 18) : 0),
	speed: (t) => (t < 30 ? 60 : 0),
	ect: () => 81
};
const of = (more: Record<string, Shape> = {}, vehicle = vehicleWith()) =>
	measuredBaselines(prepare(handMade(60, 20, { ...drive, ...more }), { vehicle }));

describe('baselines out of a healthy log', () => {
	it('are what it shows: idle, coolant, barometer, throttle', () => {
		expect(of()).toMatchObject({
			idleMapKpa: 37.5,
			coolantIdleC: [73, 89],
			ambientPressureKpa: 100,
			fullThrottlePct: 96
		});
	});
	it('take the boost from where it has come up', () => {
		const boost = of()['boostKpa']!;
		expect(boost[0]![0]).toBeGreaterThanOrEqual(4500);
		expect(boost.at(-1)![1]).toBeGreaterThan(170);
		expect(boost.at(-1)![1]).toBeLessThan(181);
	});
	it('leave out what the log can not tell', () => {
		const none = of({ rpm: (t) => pull['rpm']!(t), speed: () => 60, tps: (t) => pull['tps']!(t) });
		expect(none.idleMapKpa).toBeUndefined();
		expect(none.coolantIdleC).toBeUndefined();
		expect(of({}, vehicleWith({ aspiration: 'na' })).boostKpa).toBeUndefined();
	});
	it('read as text', () => {
		expect(baselineText([73, 89])).toBe('73 to 89');
		expect(baselineText([[5000, 170]])).toBe('170 at 5000');
		expect(baselineText(undefined)).toBe('none');
	});
});
