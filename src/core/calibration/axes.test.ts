/** Axes in whatever channel and unit a program writes them: the log is turned into their terms, never the other way round. */
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith, calibrationWith } from '../testing/hand-made.ts';
import { prepare } from '../evidence/prepare.ts';
import { Frame } from '../logfile/frame.ts';
import { propose } from '../revising/revise.ts';
import { screenPrepared } from '../screening/screen.ts';
import { along } from './along.ts';
import { axisChannel, axisTitle, axisUnit, readsPressure, sameReading, turner } from './axes.ts';
import { compare } from './compare.ts';

/** NIST SP 811: 1 psi is 6.894757 kPa. */
const KPA_PER_PSI = 6.894757;
const BARO = 100;
const log = handMade(10, 20, { rpm: () => 3000, map: (t) => 50 + 10 * t, ect: () => 80 });
const frame = new Frame(log);

describe('a log in the terms of an axis', () => {
	it.each([
		['map', undefined, (kpa: number) => kpa],
		['map', 'kPa', (kpa: number) => kpa],
		['map', 'psi', (kpa: number) => kpa / KPA_PER_PSI],
		['map', 'psi gauge', (kpa: number) => (kpa - BARO) / KPA_PER_PSI],
		['map', 'bar', (kpa: number) => kpa / 100],
		['boost', undefined, (kpa: number) => kpa - BARO],
		['boost', 'psi', (kpa: number) => (kpa - BARO) / KPA_PER_PSI],
		['pressureRatio', undefined, (kpa: number) => kpa / BARO]
	])('%s in %s', (channel, unit, of) => {
		const values = axisChannel(frame, { channel, unit }, BARO)!;
		const map = frame.get('map')!;
		for (let i = 0; i < values.length; i += 17) expect(values[i]).toBeCloseTo(of(map[i]!), 3);
	});
	it('a temperature in °F reads the same engine', () => {
		expect(axisChannel(frame, { channel: 'ect', unit: '°F' }, BARO)![5]).toBeCloseTo(176, 2);
	});
	it('a unit that measures something else, or is none, changes nothing', () => {
		expect(axisChannel(frame, { channel: 'map', unit: 'rpm' }, BARO)).toBe(frame.get('map'));
		expect(axisChannel(frame, { channel: 'map', unit: 'furlong' }, BARO)).toBe(frame.get('map'));
	});
	it('a channel that is not logged is none', () => {
		expect(axisChannel(frame, { channel: 'airmass' }, BARO)).toBeNull();
	});
});

describe('points of one axis on another', () => {
	it.each([
		[{ channel: 'boost', unit: 'psi' }, { channel: 'map' }, 14.5, BARO + 14.5 * KPA_PER_PSI],
		[{ channel: 'map' }, { channel: 'pressureRatio' }, 150, 1.5],
		[{ channel: 'pressureRatio' }, { channel: 'boost' }, 2, 100],
		[{ channel: 'map', unit: 'bar' }, { channel: 'map', unit: 'kPa' }, 1.8, 180]
	])('%j on %j', (from, to, point, expected) => {
		expect(turner(from, to, BARO)!(point)).toBeCloseTo(expected, 6);
		expect(turner(to, from, BARO)!(turner(from, to, BARO)!(point))).toBeCloseTo(point, 9);
	});
	it('that read different things there are none', () => {
		expect(turner({ channel: 'rpm' }, { channel: 'map' }, BARO)).toBeNull();
	});
	it('the same by another word is the same', () => {
		expect(sameReading({ channel: 'map' }, { channel: 'map', unit: 'kPa' })).toBe(true);
		expect(sameReading({ channel: 'map' }, { channel: 'map', unit: 'psi' })).toBe(false);
		expect(sameReading({ channel: 'map', unit: 'kPa gauge' }, { channel: 'boost' })).toBe(false);
	});
	it('have a title and a unit for readers', () => {
		expect([axisTitle('boost'), axisUnit({ channel: 'boost' })]).toEqual(['Boost', 'kPa']);
		expect([axisTitle('rpm'), axisUnit({ channel: 'rpm' })]).toEqual(['Engine speed', 'rpm']);
		expect(axisUnit({ channel: 'pressureRatio' })).toBe('');
		expect(axisTitle('somebody.else')).toBe('somebody.else');
		expect(['map', 'boost', 'pressureRatio', 'rpm'].map(readsPressure)).toEqual([true, true, true, false]);
	});
});

/** One fuel surface, written by absolute pressure, by boost in psi, and by gauge bar. */
const KPA = [41.3, 72.9, 103.7, 134.1, 163.3, 197.9];
function calibration(channel: string, unit: string | undefined, of: (kpa: number) => number) {
	return calibrationWith([
		{
			id: 'fuel.table',
			kind: 'map',
			unit: '%',
			x: { channel: 'rpm', points: [1000, 2000, 3000, 4000, 5000, 6000, 7000] },
			y: { channel, ...(unit ? { unit } : {}), points: KPA.map(of) },
			values: KPA.map((k) => [1, 2, 3, 4, 5, 6, 7].map((r) => 60 + r + k / 10))
		}
	]);
}
const absolute = calibration('map', undefined, (k) => k);
const psi = calibration('boost', 'psi', (k) => (k - BARO) / KPA_PER_PSI);
const gaugeBar = calibration('map', 'bar gauge', (k) => (k - BARO) / 100);

describe('one surface, however its axes are written', () => {
	it('gives the same along a log', () => {
		const a = along(frame, absolute, 'fuel.table', BARO)!;
		for (const other of [psi, gaugeBar]) {
			const b = along(frame, other, 'fuel.table', BARO)!;
			for (let i = 0; i < a.length; i += 13) expect(b[i]).toBeCloseTo(a[i]!, 2);
		}
	});
	it('is no difference of value between two calibrations', () => {
		for (const other of [psi, gaugeBar])
			expect(compare(absolute, other, BARO).changes).toMatchObject([{ class: 'neutral', cellsChanged: 0 }]);
	});
	it('is corrected by the same percentages', () => {
		const shapes = { ...pullShapes(), 'lambda.b1': (t: number) => (t >= 8 && t < 18 ? 0.85 : 1.04) };
		const corrected = [absolute, psi, gaugeBar].map((c) => {
			const input = prepare(handMade(60, 20, shapes), {
				vehicle: vehicleWith({}, { baselines: { ambientPressureKpa: BARO } }),
				calibrations: [c]
			});
			const { changes } = propose([{ input, findings: screenPrepared(input).findings }]);
			return changes
				.flatMap((p) => p.cells)
				.map((cell) => [cell.x, +cell.to.toFixed(2), +cell.from.toFixed(2)]);
		});
		expect(corrected[0]!.length).toBeGreaterThan(3);
		expect(corrected[1]).toEqual(corrected[0]);
		expect(corrected[2]).toEqual(corrected[0]);
	});
});
