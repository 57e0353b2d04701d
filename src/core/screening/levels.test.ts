import { describe, expect, it } from 'vitest';
import { prepare } from '../evidence/prepare.ts';
import { handMade, inPull, pullShapes, vehicleWith } from '../testing/hand-made.ts';
import { CHECKS } from './codes.ts';
import { againstOwn, bandOf, LEVEL_IDS, LEVEL_KINDS, levelsOf, type Levels, kindBandOf } from './levels.ts';

const prepared = (more: object = {}) =>
	prepare(
		handMade(40, 20, {
			...pullShapes(),
			vbat: () => 14.1,
			iat: (t) => (inPull(t) ? 48 : 30),
			oilPressure: (t) => (inPull(t) ? 450 : 300),
			fuelPressure: (t) => (inPull(t) ? 380 : 300),
			...more
		}),
		{ vehicle: vehicleWith(), calibrations: [] }
	);

describe('levels of a log', () => {
	it('are what was held, not what flickered once', () => {
		const levels = levelsOf(prepared({ ect: (t: number) => (t > 20 && t < 20.1 ? 140 : 92) }));
		expect(levels).toMatchObject({ coolant: 92, volts: 14.1, intakeOver: 18, fuelPressure: 380 });
		// 450 kPa where the pull ends near 6500 rpm: 69 and more for each 1000.
		expect(levels.oilPressure).toBeGreaterThan(68);
		expect(levels.oilPressure).toBeLessThan(80);
		expect(levels.mixture).toBeCloseTo(0, 6);
	});
	it('are missing where the log says nothing', () => {
		const levels = levelsOf(prepared());
		expect(levels.oilTemp).toBeUndefined();
		expect(levels.trims).toBeUndefined();
	});
	it('each belongs to a line of the readiness sheet', () => {
		for (const id of LEVEL_IDS)
			expect(CHECKS.find((c) => c.code === LEVEL_KINDS[id].check)?.readiness, id).toBeDefined();
	});
});

describe('the band of an item', () => {
	it('needs three logs', () => {
		expect(bandOf('coolant', [])).toBeNull();
		expect(bandOf('coolant', [90, 91])).toBeNull();
		expect(bandOf('coolant', [90, 91, 92])).toEqual({ low: 87, high: 95, logs: 3 });
	});
	it('with fewer than ten is that of the last three', () => {
		expect(bandOf('coolant', [60, 61, 62, 90, 91, 92])).toEqual({ low: 87, high: 95, logs: 3 });
	});
	it('from ten on is the median and the spread of all, and one bad day moves it little', () => {
		const days = [88, 92, 90, 94, 86, 91, 89, 93, 87, 90, 130];
		const band = bandOf('coolant', days)!;
		expect(band.logs).toBe(11);
		// Median 90, median distance 2: ± 3 × 1.4826 × 2 = 8.9.
		expect(band.low).toBeCloseTo(81.1, 1);
		expect(band.high).toBeCloseTo(98.9, 1);
	});
	it('is never narrower than weather and driver make it', () => {
		expect(
			bandOf(
				'volts',
				Array.from({ length: 12 }, () => 14)
			)
		).toEqual({ low: 13.8, high: 14.2, logs: 12 });
	});
});

describe('a log against its own car', () => {
	const well: Levels[] = Array.from({ length: 4 }, () => ({ coolant: 90, fuelPressure: 380 }));
	it('says what leaves its band though every limit holds', () => {
		const own = againstOwn({ coolant: 97, fuelPressure: 381, volts: 14 }, well);
		expect(own.map((l) => [l.id, l.out])).toEqual([
			['coolant', true],
			['fuelPressure', false],
			['volts', false]
		]);
		expect(own.at(-1)!.band).toBeNull();
	});
});

describe('what is normal for vehicles of a kind', () => {
	it('is told by five of them or more, each by the middle of its own logs', () => {
		const four = [[88], [90], [92], [90]];
		expect(kindBandOf('coolant', four)).toBeNull();
		// A vehicle without a healthy log is none.
		expect(kindBandOf('coolant', [...four, []])).toBeNull();
		const band = kindBandOf('coolant', [...four, [70, 91, 110]])!;
		expect(band.logs).toBe(5);
		expect((band.low + band.high) / 2).toBe(90);
		// One log of one vehicle doesn't move it.
		expect(band.high).toBeLessThan(100);
	});
	it('is never narrower than weather and drivers make it', () => {
		const same = Array.from({ length: 6 }, () => [14.1]);
		const band = kindBandOf('volts', same)!;
		expect(band.high - band.low).toBeCloseTo(0.4, 6);
	});
});
