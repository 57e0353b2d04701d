import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';

const car = vehicleWith();
/** Two equal pulls, 10–16 s and 30–36 s. */
function twoPulls(): Record<string, Shape> {
	const [a, b] = [pullShapes(10), pullShapes(30)];
	return Object.fromEntries(
		Object.keys(a).map((id) => [id, (t: number) => (t < 23 ? a[id]!(t) : b[id]!(t))])
	);
}
const noise = (t: number) => 0.004 * Math.sin(t * 777);
/** Spikes of the mixture at 32 and 34 s for 0.3 s; the engine loses `loss` of its acceleration in them. */
const spiked = (loss: number, counters = false): Record<string, Shape> => {
	const s = twoPulls();
	const spike = (t: number) => (t > 32 && t < 32.3) || (t > 34 && t < 34.3);
	const lost = (t: number) =>
		[32, 34].reduce((sum, at) => sum + Math.max(0, Math.min(t - at, 0.3)) * loss * 667, 0);
	return {
		...s,
		rpm: (t) => s['rpm']!(t) - (t >= 30 && t < 36 ? lost(t) : 0),
		// The sensor shows it 0.1 s later.
		'lambda.b1': (t) => s['lambda.target']!(t) * (spike(t - 0.1) ? 1.12 : 1) + noise(t),
		...(counters ? { 'misfire.cyl1': () => 0 } : {})
	};
};
const report = (shapes: Record<string, Shape>, seconds = 50) => reportOf(handMade(seconds, 20, shapes), car);

describe('misfire.suspected', () => {
	it('short lean spikes with a loss of drive are misfires, and no lean mixture', () => {
		const r = report(spiked(0.8));
		expect(findingOf(r, 'misfire.suspected')).toMatchObject({ severity: 'fix', value: 2 });
		expect(findingOf(r, 'fuel.lean')).toBeUndefined();
	});
	it('the same spikes with all the drive there are lean', () => {
		const r = report(spiked(0));
		expect(findingOf(r, 'misfire.suspected')).toBeUndefined();
		expect(findingOf(r, 'fuel.lean')).toBeDefined();
	});
	it('the lift at the end of a pull is no spike: nothing comes after it under load', () => {
		const starts = [20, 50, 80];
		const since = (t: number) => t - starts.findLast((s) => t >= s)!;
		const inPull = (t: number) => t >= 20 && since(t) < 10;
		const rpm = (t: number) => (t < 20 ? 3000 : 3000 + 300 * Math.max(0, Math.min(since(t), 20 - since(t))));
		const r = report(
			{
				rpm,
				map: (t) => (inPull(t) ? 140 : 45),
				tps: (t) => (inPull(t) ? 100 : 18),
				pedal: (t) => (inPull(t) ? 100 : 18),
				ect: () => 88,
				'lambda.target': (t) => (inPull(t) ? 0.8 : 1),
				// The exhaust clears a sample before the throttle shows the lift.
				'lambda.b1': (t) => (inPull(t + 0.06) ? 0.8 : 1) * (1 + 0.003 * Math.sin(rpm(t) / 400))
			},
			110
		);
		expect(findingOf(r, 'misfire.suspected')).toBeUndefined();
	});
	it('counters, where they are logged, are believed', () => {
		const r = report(spiked(0.8, true));
		expect(findingOf(r, 'misfire.suspected')).toBeUndefined();
		expect(outcomeOf(r, 'misfire').outcome).toBe('pass');
	});
	it('a mixture that scatters by 6 % from sample to sample in one pull is suspected too', () => {
		const s = twoPulls();
		const r = report({
			...s,
			'lambda.b1': (t) =>
				s['lambda.target']!(t) * (t > 32 && t < 34 ? 1 + 0.03 * Math.sign(Math.sin(t * 63)) : 1) + noise(t)
		});
		expect(findingOf(r, 'misfire.suspected')?.summary).toContain('scatters');
	});
	it('a mixture that is steadily lean is not', () => {
		const s = twoPulls();
		const r = report({ ...s, 'lambda.b1': (t) => s['lambda.target']!(t) * 1.1 + noise(t) });
		expect(findingOf(r, 'misfire.suspected')).toBeUndefined();
		expect(findingOf(r, 'fuel.lean')?.severity).toBe('stop');
	});
});
