/** Blips under load against the same without load, where an engine can't knock. */
import { describe, expect, it } from 'vitest';
import { prepare } from '../prepare.ts';
import { DEFAULT_STRATEGY } from '../../correction/strategy.ts';
import { proposeTiming } from '../../revising/timing.ts';
import {
	calibrationWith,
	findingOf,
	handMade,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';
import { mostRatio } from './control.ts';

/** Two minutes at one engine speed: the first 100 s light, then under load. */
const load = (t: number) => t >= 100 && t < 160;
const shapes = (retard: Shape): Record<string, Shape> => ({
	rpm: () => 4000,
	map: (t) => (load(t) ? 100 : 45),
	tps: (t) => (load(t) ? 100 : 12),
	pedal: (t) => (load(t) ? 100 : 12),
	speed: () => 90,
	ect: () => 88,
	iat: () => 30,
	baro: () => 101,
	sparkBase: () => 25,
	spark: (t) => 25 - retard(t),
	knockRetard: retard
});
/** A blip of 2° for a tenth of a second every so often. */
const every =
	(lightS: number, loadedS: number): Shape =>
	(t) => {
		const period = load(t) ? loadedS : lightS;
		return period > 0 && t > 5 && t % period < 0.1 ? 2 : 0;
	};
const table = calibrationWith([
	{
		id: 'spark.table',
		kind: 'map',
		unit: '°BTDC',
		decimals: 1,
		x: { channel: 'rpm', unit: 'rpm', points: [2000, 3000, 4000, 5000] },
		y: { channel: 'map', unit: 'kPa', points: [40, 70, 100] },
		values: [1, 2, 3].map(() => [25, 25, 25, 25])
	}
]);
const vehicle = vehicleWith({ aspiration: 'na' });
const found = (retard: Shape) => {
	const report = reportOf(handMade(165, 20, shapes(retard)), vehicle, [table]);
	return findingOf(report, 'knock.blips') ?? findingOf(report, 'knock.unclear');
};

describe('unloaded driving as a control', () => {
	it('as often without load: one severity lower, and it says so', () => {
		const f = found(every(1.2, 1.2))!;
		expect(f.severity).toBe('note');
		expect(f.summary).toContain("where an engine can't knock");
	});
	it('three times as often under load: as grave as ever', () =>
		expect(found(every(6, 2))!.severity).toBe('watch'));
	it('nothing without load is no control', () => expect(found(every(0, 3))!.severity).toBe('watch'));
	it('timing that comes out for it is asked about, and a cautious proposal leaves it', () => {
		// Three blips under load are no pattern: of no clear shape, and treated as real.
		const log = handMade(165, 20, shapes(every(3, 11)));
		const input = prepare(log, { vehicle, calibrations: [table] });
		const findings = reportOf(log, vehicle, [table]).findings;
		const evidence = [{ input, findings }];
		const { change } = proposeTiming(evidence, table);
		expect(change!.cells.length).toBeGreaterThan(0);
		expect(change!.cells.every((c) => c.ask)).toBe(true);
		expect(
			proposeTiming(evidence, table, { ...DEFAULT_STRATEGY, cautious: true }.cautious).change
		).toBeNull();
	});
});

it('the bound of a ratio of rates is that of the handbook example', () => {
	// Rothman's 41 cases in 28 010 and 15 in 19 017 person-years: ratio 1.86, 90 % interval 1.13 to 3.04 (from memory).
	expect(mostRatio(41, 28010, 15, 19017)).toBeCloseTo(3.04, 1);
	expect(mostRatio(0, 10, 5, 10)).toBe(0);
	expect(mostRatio(3, 10, 0, 10)).toBe(Infinity);
});
