import { prepare } from '../prepare.ts';
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { sensorsView } from './sensors-view.ts';

const vehicle = vehicleWith(
	{},
	{
		sensors: {
			lambda: [
				{ channel: 'lambda.b1', kind: 'factory', site: 'bank1' },
				{ channel: 'lambda.ref', kind: 'independent', site: 'bank1' },
				{ channel: 'lambda.dyno', kind: 'dyno', site: 'collector' }
			]
		}
	}
);
const view = (more: Record<string, Shape>) =>
	sensorsView(prepare(handMade(60, 20, { ...pullShapes(10, 10), ...more }), { vehicle }))!;
const lambda = pullShapes(10, 10)['lambda.b1']!;
/** Common practice: the factory sensor shows 11.1:1 where two independent instruments agree on 12.6. */
const drifted = () =>
	view({
		'lambda.b1': (t) => (lambda(t) < 0.9 ? 11.1 / 14.7 : 1),
		'lambda.ref': (t) => (lambda(t) < 0.9 ? 12.6 / 14.7 : 1),
		'lambda.dyno': (t) => (lambda(t) < 0.9 ? 12.55 / 14.7 : 1)
	});

describe('the view of the sensors', () => {
	it('sets every source over engine speed while loaded', () => {
		const v = drifted();
		const at = v.rpm.indexOf(4750);
		expect(v.sources.map((s) => s.channel)).toEqual(['lambda.b1', 'lambda.ref', 'lambda.dyno']);
		expect(v.sources[0]!.lambda[at]).toBeCloseTo(11.1 / 14.7, 3);
		expect(v.sources[1]!.lambda[at]).toBeCloseTo(12.6 / 14.7, 3);
		expect(v.target[at]).toBeCloseTo(0.8, 3);
	});
	it('strikes the one that two others outvote, and says why', () => {
		const v = drifted();
		expect(v.sources.map((s) => s.believed)).toEqual([false, true, true]);
		expect(v.beliefs[0]!.why).toContain('the reference lambda and the dyno lambda agree and outvote');
		const worst = v.pairs.find((p) => p.a === 'factory' && p.b === 'lambda.ref')!;
		expect(worst.worstPct).toBeCloseTo(100 * (11.1 / 12.6 - 1), 1);
	});
	it('believes the leaner of two that disagree', () => {
		const v = view({ 'lambda.ref': (t) => lambda(t) * 1.1 });
		expect(v.beliefs[0]!.why).toContain('leaner');
		expect(v.beliefs[0]!.lambda[v.rpm.indexOf(4750)]).toBeCloseTo(0.88, 3);
	});
	it('says that a single source stands alone', () => {
		expect(view({}).beliefs[0]!.why).toContain('second opinion');
	});
	it('finds a drift over the log', () => {
		const two = pullShapes(100, 10);
		const one = pullShapes(10, 10);
		const shapes = Object.fromEntries(
			Object.keys(one).map((id) => [id, (t: number) => (t < 60 ? one[id]!(t) : two[id]!(t))])
		);
		const v = sensorsView(
			prepare(
				handMade(150, 20, { ...shapes, 'lambda.ref': (t) => shapes['lambda.b1']!(t) * (1 + t / 3000) }),
				{ vehicle }
			)
		)!;
		// 1/3000 per second is 20 points in ten minutes, the other way round for the first against the second.
		expect(v.pairs[0]!.driftPoints).toBeLessThan(-17);
		expect(v.pairs[0]!.driftPoints).toBeGreaterThan(-22);
	});
	it('has nothing to show without a lambda', () => {
		const shapes = pullShapes();
		delete shapes['lambda.b1'];
		expect(sensorsView(prepare(handMade(30, 20, shapes), { vehicle }))).toBeNull();
	});
});
