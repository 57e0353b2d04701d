import { prepare } from '../prepare.ts';
import { describe, expect, it } from 'vitest';
import { Frame } from '../../logfile/frame.ts';
import { handMade, pullShapes, twoBanks, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { near, siteOf } from './believed.ts';
import { aligned, defaultLagS, flowShare } from './lag.ts';

const sensors = (...list: [string, string, string][]) => ({
	sensors: { lambda: list.map(([channel, kind, site]) => ({ channel, kind, site })) }
});
const shapes = pullShapes();
const prepared = (more: Record<string, Shape>, vehicle = vehicleWith()) =>
	prepare(handMade(30, 20, { ...shapes, ...more }), { vehicle });
const mean = (v: Float32Array, from: number, to: number) => {
	const part = Array.from(v.slice(from * 20, to * 20)).filter(Number.isFinite);
	return part.reduce((s, x) => s + x, 0) / part.length;
};

describe('lag', () => {
	it('is 0.10 s at full flow and 0.6 s at idle flow, falling in between', () => {
		expect(defaultLagS(1)).toBeCloseTo(0.1, 3);
		expect(defaultLagS(0.03)).toBeCloseTo(0.6, 3);
		expect(defaultLagS(0.1)).toBeGreaterThan(defaultLagS(0.3));
		expect(defaultLagS(0)).toBe(0.6);
	});
	it('moves a channel back by whole samples and knows nothing past the end', () => {
		const t = Float64Array.from({ length: 10 }, (_, i) => i * 0.1);
		const v = Float32Array.from(t, (_, i) => i);
		const out = aligned(v, t, new Float32Array(10).fill(0.2));
		expect(Array.from(out.slice(0, 8))).toEqual([2, 3, 4, 5, 6, 7, 8, 9]);
		expect(out[9]).toBeNaN();
	});
	it('takes throttle for load where there is no pressure', () => {
		const [share] = flowShare(Float32Array.of(3500), null, Float32Array.of(100), 7000, 100);
		expect(share).toBeCloseTo(0.5, 6);
	});
});

describe('believed lambda', () => {
	it('knows where sensors sit, stated or by habit', () => {
		expect(siteOf('lambda.ref', vehicleWith())).toBe('bank1');
		expect(siteOf('lambda.ref', twoBanks())).toBe('collector');
		expect(siteOf('lambda.ref', twoBanks(sensors(['lambda.ref', 'independent', 'bank2'])))).toBe('bank2');
	});
	const two = sensors(['lambda.b1', 'factory', 'bank1'], ['lambda.ref', 'independent', 'bank1']);
	it('averages sources that agree', () => {
		const i = prepared(
			{
				'lambda.b1': (t) => shapes['lambda.b1']!(t) * 0.99,
				'lambda.ref': (t) => shapes['lambda.b1']!(t) * 1.01
			},
			vehicleWith({}, two)
		);
		expect(mean(i.believed.banks[0]!, 12, 15)).toBeCloseTo(0.8, 3);
	});
	it('believes the leaner while they disagree, and says by how much', () => {
		const i = prepared(
			{ 'lambda.b1': (t) => shapes['lambda.b1']!(t), 'lambda.ref': (t) => shapes['lambda.b1']!(t) * 1.1 },
			vehicleWith({}, two)
		);
		expect(mean(i.believed.banks[0]!, 12, 15)).toBeCloseTo(0.88, 3);
		expect(i.believed.disagreementPct[0]).toBeCloseTo(10, 1);
	});
	it('a sensor in the common pipe stands for both banks, and is told as that', () => {
		const { ['lambda.b1']: lambda, ...rest } = shapes;
		const i = prepare(handMade(30, 20, { ...rest, 'lambda.ref': lambda! }), { vehicle: twoBanks() });
		expect(i.believed.shared).toBe(true);
		expect(i.believed.banks[0]).not.toBeNull();
	});
	it('a narrowband is no witness', () => {
		const i = prepared({}, vehicleWith({}, sensors(['lambda.b1', 'narrowband', 'bank1'])));
		expect(i.believed.banks[0]).toBeNull();
	});
	it('says nothing from before a fuel cut until the sensor has come back', () => {
		const i = prepared({ 'pw.b1': (t) => (t >= 20 && t < 21 ? 0 : 3) });
		const b = i.believed.banks[0]!;
		expect(b[Math.round(19.4 * 20)]).toBeCloseTo(1, 3);
		for (const t of [19.9, 20.5, 21.2]) expect(b[Math.round(t * 20)]).toBeNaN();
		expect(b[Math.round(21.6 * 20)]).toBeCloseTo(1, 3);
	});
});

describe('near', () => {
	it('marks from lag + 0.15 s before to 0.6 s after', () => {
		const t = Float64Array.from({ length: 41 }, (_, i) => i / 20);
		const flags = new Uint32Array(41);
		flags[20] = 4;
		const marked = Array.from(near(flags, 4, t, new Float32Array(41).fill(0.1))).flatMap((m, i) =>
			m ? [t[i]!] : []
		);
		expect(Math.min(...marked)).toBeCloseTo(0.75, 6);
		expect(Math.max(...marked)).toBeCloseTo(1.6, 6);
	});
});

describe('required correction', () => {
	it('is lambda over target times the trims as applied', () => {
		const i = prepared({
			'lambda.b1': (t) => shapes['lambda.b1']!(t) * 1.02,
			'stft.b1': () => 3,
			'ltft.b1': () => -1
		});
		expect(i.required.banks[0]![5 * 20]).toBeCloseTo(1.02 * 1.03 * 0.99, 5);
	});
	it('leaves the learned trim out at full load where the controller ignores it there, or when it would take fuel away', () => {
		const k = (rule: string, trim: number) => {
			const i = prepared(
				{ 'ltft.b1': () => trim },
				vehicleWith({}, { controller: { learnedTrimAtFullLoad: rule } })
			);
			return i.required.banks[0]![14 * 20]!;
		};
		expect(k('applied', 5)).toBeCloseTo(1.05, 5);
		expect(k('ignored', 5)).toBeCloseTo(1, 5);
		expect(k('positive-only', -5)).toBeCloseTo(1, 5);
		expect(k('positive-only', 5)).toBeCloseTo(1.05, 5);
	});
	it('takes the target from the table of the revision when none is logged', () => {
		const { ['lambda.target']: _t, ...rest } = shapes;
		const table = {
			id: 'lambda.target',
			kind: 'map' as const,
			x: { channel: 'rpm', points: [1000, 7000] },
			y: { channel: 'map', points: [20, 200] },
			values: [
				[0.9, 0.9],
				[0.9, 0.9]
			]
		};
		const calibration = {
			schema: 'tanto.calibration/1' as const,
			name: 'c',
			fuelModel: 'maf' as const,
			items: [table]
		};
		const i = prepare(handMade(30, 20, rest), { vehicle: vehicleWith(), calibrations: [calibration] });
		expect(i.target.from).toBe('table');
		expect(i.target.values![100]).toBeCloseTo(0.9, 6);
	});
});

describe('channels on one axis', () => {
	it('holds a slow channel for three of its own intervals, then it is missing', () => {
		const log = handMade(10, 20, { rpm: () => 2000 });
		const timeS = Float64Array.of(0, 1, 2, 3, 9);
		log.channels.push({
			...log.channels[0]!,
			id: 'ect',
			timeS,
			values: Float32Array.of(80, 81, 82, 83, 89),
			rateHz: 1
		});
		const ect = new Frame(log).get('ect')!;
		expect(ect[20 * 2 + 5]).toBe(82);
		expect(ect[20 * 5]).toBe(83);
		expect(ect[20 * 7]).toBeNaN();
		expect(ect[20 * 9 + 3]).toBe(89);
	});
});
