import { FLAG } from './kinds.ts';
import { prepare } from '../prepare.ts';
import { describe, expect, it } from 'vitest';
import { openFilter } from '../cells/view.ts';
import { cellView } from '../cells/view.ts';
import { screen } from '../../screening/screen.ts';
import {
	at,
	findingOf,
	handMade,
	outcomeOf,
	pulled,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape,
	calibrationWith
} from '../../testing/hand-made.ts';

/** Engine off before 6 s and from 30 s on; a pull from 10 to 16 s. */
const off = (t: number) => t < 6 || t >= 30;
const switched =
	(running: Shape, standing: number): Shape =>
	(t) =>
		off(t) ? standing : running(t);
const shapes = (): Record<string, Shape> => {
	const s = pullShapes();
	return {
		...s,
		rpm: switched(s['rpm']!, 0),
		map: switched(s['map']!, 100),
		tps: switched(s['tps']!, 5),
		speed: switched((t) => s['rpm']!(t) / 40, 0),
		'lambda.b1': switched(s['lambda.b1']!, 1.52),
		'pw.b1': switched(s['pw.b1']!, 0)
	};
};
const flagsOf = (more: Record<string, Shape> = {}) => {
	const input = prepare(handMade(40, 20, { ...shapes(), ...more }), { vehicle: vehicleWith() });
	return {
		input,
		standing: (t: number) => (input.segments.flags[Math.round(t * 20)]! & FLAG.standing) !== 0
	};
};

describe('a standing engine', () => {
	it('is told by engine speed, road speed and the manifold', () => {
		const { standing } = flagsOf();
		expect([1, 5.9, 6.1, 12, 29.9, 30.1, 39].map(standing)).toEqual([
			true,
			true,
			false,
			false,
			false,
			true,
			true
		]);
	});
	it('may have no engine speed at all', () => {
		expect(flagsOf({ rpm: switched(shapes()['rpm']!, Number.NaN) }).standing(3)).toBe(true);
	});
	it('is none while the car rolls, or while the manifold is under a vacuum', () => {
		expect(flagsOf({ speed: at(60) }).standing(3)).toBe(false);
		expect(flagsOf({ map: at(40) }).standing(3)).toBe(false);
	});
	it('is no full load that lost its engine speed: that is a broken channel', () => {
		const lost = flagsOf({ rpm: (t) => (t > 12 && t < 15 ? 0 : shapes()['rpm']!(t)) });
		expect(lost.standing(13)).toBe(false);
	});
	it('gives the barometer', () => {
		const { baro: _, ...rest } = shapes();
		const input = prepare(handMade(40, 20, rest), { vehicle: vehicleWith() });
		expect(input.segments).toMatchObject({ baroKpa: 100, baroFrom: 'manifold with the engine standing' });
	});
	it('heats through without a finding: nothing is circulating', () => {
		const report = reportOf(handMade(40, 20, { ...shapes(), ect: switched(at(90), 121) }), vehicleWith());
		expect(findingOf(report, 'temp.coolant')).toBeUndefined();
	});
	it('is in no cell of a map', () => {
		const { input } = flagsOf();
		const view = cellView(input, {
			quantity: 'vbat',
			axes: { xChannel: 'rpm', x: [0, 1000, 7000], yChannel: 'map', y: [0, 200] },
			method: 'nearest',
			lambda: 'believed',
			filter: openFilter(40)
		});
		expect(view).toBeNull();
		const speed = cellView(flagsOf().input, {
			quantity: 'tps',
			axes: { xChannel: 'rpm', x: [0, 1000, 7000], yChannel: 'map', y: [0, 200] },
			method: 'nearest',
			lambda: 'believed',
			filter: { ...openFilter(40), withUnusable: true }
		})!;
		expect(speed.n[0]).toBe(0);
		expect(speed.samples).toBe(24 * 20);
	});
});

describe('log.revision with the engine standing at both ends', () => {
	const table = (deg: number) =>
		calibrationWith(
			[
				{
					id: 'spark.table',
					kind: 'map',
					unit: '°',
					x: { channel: 'rpm', points: [500, 7000] },
					y: { channel: 'map', points: [20, 200] },
					values: [
						[deg, deg],
						[deg, deg]
					]
				}
			],
			{ name: `timing ${deg}` }
		);
	const made = (deg: number) => handMade(40, 20, { ...shapes(), sparkBase: switched(at(deg), 0) });
	const screened = (deg: number, stated: number) =>
		screen(made(deg), { vehicle: vehicleWith(), calibrations: [table(20), table(21.5)], stated });
	it('an exact match is exact', () => {
		expect(outcomeOf(screened(20, 0), 'log.revision').reason).toContain('sparkBase within 0.00 °');
	});
	it('another file in the car is seen, though it differs by 1.5° only', () => {
		expect(findingOf(screened(20, 1), 'log.revision')?.severity).toBe('stop');
	});
});

describe('a pull', () => {
	it('is none where the pedal is logged at 60 %, however far the throttle opens', () => {
		const input = prepare(handMade(40, 20, { ...pullShapes(), pedal: pulled(60, 10) }), {
			vehicle: vehicleWith()
		});
		expect(input.segments.pulls).toHaveLength(0);
		expect(input.segments.list.some((s) => s.kind === 'medium')).toBe(true);
	});
	it('is one with the pedal down, or where no pedal is logged', () => {
		const pulls = (more: Record<string, Shape>) =>
			prepare(handMade(40, 20, { ...pullShapes(), ...more }), { vehicle: vehicleWith() }).segments.pulls
				.length;
		expect(pulls({ pedal: pulled(100, 10) })).toBe(1);
		expect(pulls({})).toBe(1);
	});
});
