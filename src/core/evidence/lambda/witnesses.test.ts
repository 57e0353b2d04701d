import { describe, expect, it } from 'vitest';
import { handMade, inPull, pullShapes, twoBanks, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import { prepare } from '../prepare.ts';
import { compareWitnesses, gasPaths, kindOf, meanOf, pairsOf, type LambdaSource } from './witnesses.ts';

const source = (channel: string, site: string, values: number[]): LambdaSource => ({
	channel,
	site,
	values: Float32Array.from(values),
	lag: {} as LambdaSource['lag']
});
const ids = (paths: ReturnType<typeof gasPaths>) => paths.map((p) => [p.bank, p.witnesses.map((w) => w.id)]);
const inline = vehicleWith();

describe('what a channel is', () => {
	it('the controller’s own, an instrument, or what the vehicle says it is', () => {
		expect(kindOf('lambda.b1', inline)).toBe('factory');
		expect(kindOf('lambda.ref', inline)).toBe('independent');
		const stated = vehicleWith(
			{},
			{
				sensors: {
					lambda: [
						{ channel: 'lambda.ref', kind: 'dyno', site: 'collector' },
						{ channel: 'lambda.b2', kind: 'narrowband', site: 'bank2' }
					]
				}
			}
		);
		expect(kindOf('lambda.ref', stated)).toBe('independent');
		expect(kindOf('lambda.b2', stated)).toBe('narrowband');
	});
	it('the mean of several leaves out what is missing', () => {
		const mean = meanOf([Float32Array.of(0.8, Number.NaN, Number.NaN), Float32Array.of(0.9, 1, Number.NaN)]);
		expect(mean[0]).toBeCloseTo(0.85, 6);
		expect(mean[1]).toBe(1);
		expect(mean[2]).toBeNaN();
	});
});

describe('who saw the same gas', () => {
	it('with one bank all sources do, and one witness alone makes no path', () => {
		const own = source('lambda.b1', 'bank1', [0.8]);
		expect(gasPaths([own], 1, inline)).toEqual([]);
		expect(ids(gasPaths([own, source('lambda.ref', 'collector', [0.8])], 1, inline))).toEqual([
			[0, ['factory', 'lambda.ref']]
		]);
	});
	it('an instrument in one bank is set against that bank alone', () => {
		const all = [
			source('lambda.b1', 'bank1', [0.8]),
			source('lambda.b2', 'bank2', [0.84]),
			source('lambda.ref', 'bank2', [0.85])
		];
		expect(ids(gasPaths(all, 2, twoBanks()))).toEqual([[2, ['factory', 'lambda.ref']]]);
	});
	it('the common pipe carries the mean of the banks, and only where both were seen', () => {
		const pipe = source('lambda.ref', 'collector', [0.82]);
		const banks = [source('lambda.b1', 'bank1', [0.8]), source('lambda.b2', 'bank2', [0.84])];
		const [path] = gasPaths([...banks, pipe], 2, twoBanks());
		expect(path!.bank).toBe(0);
		expect(path!.witnesses[0]!.values[0]).toBeCloseTo(0.82, 6);
		expect(gasPaths([banks[0]!, pipe], 2, twoBanks())).toEqual([]);
	});
	it('a narrowband sensor is no witness', () => {
		const vehicle: Vehicle = vehicleWith(
			{},
			{ sensors: { lambda: [{ channel: 'lambda.b1', kind: 'narrowband', site: 'bank1' }] } }
		);
		expect(
			gasPaths([source('lambda.b1', 'bank1', [1]), source('lambda.ref', 'bank1', [0.8])], 1, vehicle)
		).toEqual([]);
	});
});

describe('two witnesses of one gas', () => {
	const compared = (off: Shape) => {
		const { frame, segments } = prepare(
			handMade(40, 20, { ...pullShapes(), 'lambda.ref': (t) => (inPull(t) ? 0.8 : 1) }),
			{ vehicle: inline, calibrations: [] }
		);
		const ref = frame.get('lambda.ref')!;
		const a = {
			id: 'a',
			channels: ['a'],
			values: Float32Array.from(ref, (v, i) => v * off(frame.timeS[i]!))
		};
		const b = { id: 'b', channels: ['b'], values: ref };
		return { frame, segments, a, b, pair: compareWitnesses(a, b, frame, segments) };
	};
	it('are compared while loaded, by 500 rpm, and the worst bin is told', () => {
		// From 14 s on, above 5167 rpm, one reads 6 % leaner; before, they agree.
		const { pair } = compared((t) => (t >= 14 ? 1.06 : 1));
		expect(pair!.worstPct).toBeCloseTo(6, 3);
		expect(pair!.rpm).toBeGreaterThanOrEqual(5000);
		expect(Math.abs(pair!.medianPct)).toBeLessThan(1);
	});
	it('say nothing where nothing was driven under load', () => {
		const { frame, segments, a, b } = compared(() => 1);
		const none = { ...segments, flags: new Uint32Array(frame.length) };
		expect(compareWitnesses(a, b, frame, none)).toBeNull();
		expect(pairsOf({ bank: 0, witnesses: [a, b] }, frame, segments)).toHaveLength(1);
	});
});
