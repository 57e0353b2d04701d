import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { parseCalibration } from '../calibration/document.ts';
import type { Finding } from '../screening/types.ts';
import { handMade, vehicleWith } from '../testing/hand-made.ts';
import { injectorFit, proposeInjectors } from './injectors.ts';
import { propose } from './revise.ts';
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';

const calibration = (more: object = {}) =>
	parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'c',
		fuelModel: 'speed-density',
		items: [
			{ id: 'injector.flow', kind: 'scalar', unit: 'cc/min', value: 600, decimals: 0 },
			{
				id: 'injector.deadTime',
				kind: 'curve',
				unit: 'ms',
				x: { channel: 'vbat', unit: 'V', points: [10, 12, 14] },
				values: [1.8, 1.2, 0.9]
			},
			{
				id: 'fuel.table',
				kind: 'map',
				x: { channel: 'rpm', points: [1000, 3000, 5000] },
				y: { channel: 'map', points: [30, 60, 100] },
				values: [1, 2, 3].map(() => [80, 80, 80])
			}
		],
		...more
	});

/** Steady driving at five pulses; the injector really has another flow and dead time than the revision believes. */
function log(flowRatio: number, deadOffMs: number) {
	const effective = (t: number) => [1.2, 2, 3.5, 6, 9][Math.min(4, Math.floor(t / 12))]!;
	return handMade(60, 20, {
		rpm: (t) => 1500 + 100 * Math.floor(t / 12),
		map: (t) => 30 + 15 * Math.floor(t / 12),
		tps: () => 20,
		ect: () => 88,
		vbat: () => 14,
		'lambda.target': () => 1,
		'pw.b1': (t) => effective(t) + 0.9,
		// What the equation of the injector makes of it.
		'lambda.b1': (t) => effective(t) / (flowRatio * (effective(t) + deadOffMs))
	});
}
const evidence = (flowRatio: number, deadOffMs: number, findings: Finding[] = [], more: object = {}) => [
	{
		input: prepare(log(flowRatio, deadOffMs), { vehicle: vehicleWith(), calibrations: [calibration(more)] }),
		findings
	}
];
const found = (code: string) =>
	({ code, severity: 'fix', title: code, summary: '', causes: [], next: [] }) as unknown as Finding;
const proposed = (flowRatio: number, deadOffMs: number) =>
	Object.fromEntries(
		proposeInjectors(evidence(flowRatio, deadOffMs), DEFAULT_STRATEGY).changes.map((c) => [c.item, c.cells])
	);

describe('the line through the corrections', () => {
	it.each([
		[0.92, 0],
		[1.08, 0],
		[1, 0.12],
		[1, -0.12],
		[0.95, 0.1],
		[1.05, -0.08]
	])('tells a flow of %f from a dead time %f ms off', (flowRatio, deadOffMs) => {
		const n = 4000;
		const pulse = Float32Array.from({ length: n }, (_, i) => 1 + 8 * (((i * 7919) % n) / n));
		// Scatter of two percent, the same for every run.
		const k = pulse.map((e, i) => (e / (flowRatio * (e + deadOffMs))) * (1 + 0.02 * Math.sin(i * 12.9898)));
		const fit = injectorFit(pulse, k, new Float64Array(n).fill(0.05));
		if ('missing' in fit) throw new Error(fit.missing);
		expect(fit.flowRatio).toBeCloseTo(flowRatio, 2);
		expect(Math.abs(fit.deadOffMs - deadOffMs)).toBeLessThan(0.025);
		expect(fit.offLinePct).toBeLessThan(1.5);
	});
	it('pulses that are too alike say nothing', () => {
		const pulse = new Float32Array(400).fill(3);
		expect(
			injectorFit(
				pulse,
				pulse.map(() => 1.05),
				new Float64Array(400).fill(0.05)
			)
		).toHaveProperty('missing');
		expect(injectorFit(new Float32Array(0), new Float32Array(0), new Float64Array(0))).toHaveProperty(
			'missing'
		);
	});
});

describe('proposal for injector data', () => {
	it('a flow that is smaller than believed goes in at once: fuel is added', () => {
		const { 'injector.flow': flow, 'injector.deadTime': dead } = proposed(0.94, 0);
		expect(flow).toMatchObject([{ x: 0, y: 0, from: 600, to: 564, basis: 'measured' }]);
		expect(dead).toBeUndefined();
	});
	it('a flow that is larger takes fuel away: 70 %, and at most 5 % a revision', () => {
		expect(proposed(1.05, 0)['injector.flow']).toMatchObject([{ to: 621 }]);
		expect(proposed(1.12, 0)['injector.flow']).toMatchObject([{ to: 630 }]);
	});
	it('a dead time that is too short goes up at the voltage that was driven, elsewhere in proportion', () => {
		const { 'injector.flow': flow, 'injector.deadTime': dead } = proposed(1, -0.09);
		expect(flow).toBeUndefined();
		expect(dead).toMatchObject([
			{ x: 10, to: 1.98, basis: 'carried' },
			{ x: 12, to: 1.32, basis: 'carried' },
			{ x: 14, to: 0.99, basis: 'measured' }
		]);
	});
	it('nothing where nothing is off', () => {
		expect(proposeInjectors(evidence(1, 0), DEFAULT_STRATEGY)).toEqual({ changes: [], held: [] });
	});
	it.each(['bank.mismatch', 'sensor.lambda', 'supply.pressure'])('is held under %s', (code) => {
		const { changes, held } = proposeInjectors(evidence(0.9, 0, [found(code)]), DEFAULT_STRATEGY);
		expect(changes).toEqual([]);
		expect(held).toMatchObject([{ item: 'injector.flow', code }]);
	});
	it('an error that does not go with the pulse is of the table', () => {
		const bent = handMade(60, 20, {
			...Object.fromEntries(
				log(1, 0).channels.map((c) => [c.id, (t: number) => c.values[Math.round(t * 20)]!])
			),
			'lambda.b1': (t) => (t >= 24 && t < 36 ? 1.12 : 1)
		});
		const input = prepare(bent, { vehicle: vehicleWith(), calibrations: [calibration()] });
		const { changes, held } = proposeInjectors([{ input, findings: [] }], DEFAULT_STRATEGY);
		expect(changes).toEqual([]);
		expect(held[0]!.reason).toContain('it is the table, not the injectors');
	});
	it('the pulse-width model has no flow to correct', () => {
		const { held } = proposeInjectors(evidence(0.9, 0, [], { fuelModel: 'pulse-width' }), DEFAULT_STRATEGY);
		expect(held[0]!.reason).toContain('the table itself is the pulse');
	});
	it('with changed injectors their data come first: the fuel table waits', () => {
		const changed = propose(evidence(0.94, 0), { ...DEFAULT_STRATEGY, injectors: true });
		expect(changed.changes.map((c) => c.item)).toEqual(['injector.flow']);
		expect(changed.held).toMatchObject([{ item: 'fuel.table' }]);
		expect(propose(evidence(0.94, 0)).changes.map((c) => c.item)).toEqual(['fuel.table']);
	});
});
