/** A target that is itself wrong: offered with what it frees, never proposed. */
import { describe, expect, it } from 'vitest';
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';
import { prepare } from '../evidence/prepare.ts';
import { screenPrepared } from '../screening/screen.ts';
import { calibrationWith, handMade, inPull, pullShapes, vehicleWith } from '../testing/hand-made.ts';
import { propose } from './revise.ts';

const RPM = [1000, 3000, 5000, 7000];
const KPA = [40, 100, 140, 180];
const tables = (target: number) =>
	calibrationWith([
		{
			id: 'fuel.table',
			kind: 'map',
			unit: '%',
			x: { channel: 'rpm', unit: 'rpm', points: RPM },
			y: { channel: 'map', unit: 'kPa', points: KPA },
			values: KPA.map(() => RPM.map(() => 80))
		},
		{
			id: 'lambda.target',
			kind: 'map',
			unit: 'λ',
			decimals: 2,
			x: { channel: 'rpm', unit: 'rpm', points: RPM },
			y: { channel: 'map', unit: 'kPa', points: KPA },
			values: KPA.map((k) => RPM.map(() => (k > 120 ? target : 1)))
		}
	]);

function offered(target: number, fuel: object = {}) {
	const base = tables(target);
	const lambda = (t: number) => (inPull(t) ? target : 1);
	const log = handMade(60, 20, {
		...pullShapes(),
		'lambda.target': lambda,
		'lambda.b1': lambda,
		'pw.b1': (t) => (inPull(t) ? 12 : 4)
	});
	const input = prepare(log, {
		vehicle: vehicleWith({ aspiration: 'turbo' }, { fuel }),
		calibrations: [base]
	});
	const proposal = propose([{ input, findings: screenPrepared(input).findings }], DEFAULT_STRATEGY, base);
	expect(proposal.changes.some((c) => c.item === 'lambda.target')).toBe(false);
	return proposal.offers?.find((o) => o.item === 'lambda.target');
}

describe('a target under boost', () => {
	it('that is too lean is offered richer, in boosted cells alone, with fuel and duty', () => {
		const offer = offered(0.95)!;
		expect(offer.kind).toBe('target');
		expect(offer.cells.map((c) => [c.from, c.to])).toEqual(Array(8).fill([0.95, 0.82]));
		expect(new Set(offer.cells.map((c) => c.y))).toEqual(new Set([140, 180]));
		expect(offer.cells.every((c) => c.ask)).toBe(true);
		// 0.95 / 0.82 is 15.9 % more fuel.
		expect(offer.reason).toContain('+16 % of fuel');
		expect(offer.reason).toMatch(/duty \d+ to about \d+ %/);
	});
	it('that is far too rich on petrol is offered leaner, on much ethanol it may be right', () => {
		expect(offered(0.66)!.cells.every((c) => c.to === 0.76)).toBe(true);
		expect(offered(0.66, { ethanolPct: 80 })).toBeUndefined();
	});
	it('that is well is left alone', () => expect(offered(0.82)).toBeUndefined());
});
