/** What was typed beside a log counts: a mixture votes at its speeds, a maximum is held against its limit. */
import { describe, expect, it } from 'vitest';
import { prepare } from '../../evidence/prepare.ts';
import type { TypedMixture } from '../../evidence/lambda/typed-vote.ts';
import { keptDutyOf, mixturesOf, parseReadings } from '../../evidence/readings.ts';
import { propose } from '../../revising/revise.ts';
import { DEFAULT_STRATEGY } from '../../correction/strategy.ts';
import { calibrationWith, handMade, inPull, pullShapes, vehicleWith } from '../../testing/hand-made.ts';
import { screenPrepared } from '../screen.ts';

const table = (id: string, v: number) => ({
	id,
	kind: 'map',
	x: { channel: 'rpm', unit: 'rpm', points: [1000, 2000, 3000, 4000, 5000, 6000, 7000] },
	y: { channel: 'map', unit: 'kPa', points: [40, 80, 120, 160, 200] },
	values: Array.from({ length: 5 }, () => [v, v, v, v, v, v, v])
});
const base = calibrationWith([table('fuel.table', 80)], { fuelModel: 'speed-density' });
const target = 0.8;

/** A pull whose sensor reads `measured`, with what was typed beside it. */
function judged(measured: number, typed: TypedMixture[], keptDutyPct: number | null = null) {
	const log = handMade(40, 20, {
		...pullShapes(),
		'lambda.b1': (t) => (inPull(t) ? measured : 1),
		'lambda.target': (t) => (inPull(t) ? target : 1)
	});
	const input = prepare(log, { vehicle: vehicleWith(), calibrations: [base], typed, keptDutyPct });
	const { findings } = screenPrepared(input);
	const cells = propose([{ input, findings }], DEFAULT_STRATEGY, base).changes.flatMap((c) => c.cells);
	return { findings, cells };
}
const film = (lambda: number): TypedMixture[] =>
	[3000, 3500, 4000, 4500, 5000].map((rpm) => ({ rpm, lambda, half: 0.005 }));

describe('a typed mixture', () => {
	it('that is leaner is believed at its speeds: the lean spot is found, and fuel goes in there', () => {
		const alone = judged(target, []);
		expect(alone.findings.some((f) => f.code === 'fuel.lean')).toBe(false);
		const { findings, cells } = judged(target, film(target * 1.08));
		expect(findings.find((f) => f.code === 'sensor.lambda')).toMatchObject({
			kind: 'typed',
			severity: 'fix'
		});
		expect(findings.find((f) => f.code === 'fuel.lean')?.value).toBeGreaterThan(6);
		expect(cells.some((c) => c.to > c.from * 1.03)).toBe(true);
	});
	it('that is richer takes nothing out, and vetoes what the sensor would', () => {
		const down = (r: ReturnType<typeof judged>) => r.cells.filter((c) => c.to < c.from * 0.99).length;
		expect(down(judged(target * 0.9, []))).toBeGreaterThan(0);
		const both = judged(target * 0.9, film(target * 0.8));
		expect(both.findings.find((f) => f.code === 'sensor.lambda')).toMatchObject({ kind: 'typed' });
		expect(down(both)).toBe(0);
	});
	it('within what a film carries changes nothing', () => {
		const { findings } = judged(target, film(target * 1.02));
		expect(findings.some((f) => f.code === 'sensor.lambda')).toBe(false);
	});
});

describe('a typed maximum', () => {
	it('of 94 % duty is a finding, and no witness of the mixture', () => {
		const kept = parseReadings({
			schema: 'tanto.readings/1',
			source: 'controller-maxima',
			readings: [
				{ quantity: 'dutyPct', value: 94 },
				{ quantity: 'lambda', rpm: 4000, value: 0.9 }
			]
		});
		expect(mixturesOf(kept)).toEqual([]);
		expect(keptDutyOf([kept])).toBe(94);
		const { findings } = judged(target, [], 94);
		expect(findings.find((f) => f.code === 'inj.duty')).toMatchObject({
			kind: 'kept',
			severity: 'fix',
			value: 94
		});
		expect(judged(target, [], 60).findings.some((f) => f.code === 'inj.duty')).toBe(false);
	});
});
