import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { Frame } from '../logfile/frame.ts';
import { handMade, pullShapes, vehicleWith } from '../testing/hand-made.ts';
import { densityAltitudeFt, saeJ1349Factor, standardPressureKpa, vapourPressureKpa } from './air.ts';
import { logSummary } from './log-summary.ts';
import { effectiveMass, meanPower, pullPower, roadPowerW, type RoadPower } from './road-power.ts';
import { checkedSlip, timeslips } from './timeslip.ts';

describe('the day’s air', () => {
	it.each([
		// ISO 2533 table of the standard atmosphere, from memory: 0, 1000, 2000, 3000 m.
		[0, 101.325],
		[1000, 89.875],
		[2000, 79.495],
		[3000, 70.109]
	])('standard pressure at %d m', (altitude, kpa) => {
		expect(standardPressureKpa(altitude)).toBeCloseTo(kpa, 2);
	});
	it('density altitude is the altitude itself in the standard atmosphere', () => {
		for (const m of [0, 1000, 2000])
			expect(densityAltitudeFt(15 - 0.0065 * m, standardPressureKpa(m)) / 3.28084).toBeCloseTo(m, -2);
	});
	it('is about −1500 ft on a day of 40 °F (common practice)', () => {
		const ft = densityAltitudeFt((40 - 32) / 1.8, 101.9);
		expect(ft).toBeLessThan(-1100);
		expect(ft).toBeGreaterThan(-1900);
	});
	it('rises with humidity, because moist air is lighter', () => {
		expect(densityAltitudeFt(30, 100, 90)).toBeGreaterThan(densityAltitudeFt(30, 100, 0) + 300);
	});
	it('vapour pressure as in the tables of water (from memory): 0.611, 2.339, 7.38 kPa', () => {
		expect(vapourPressureKpa(0)).toBeCloseTo(0.611, 2);
		expect(vapourPressureKpa(20)).toBeCloseTo(2.339, 1);
		expect(vapourPressureKpa(40)).toBeCloseTo(7.38, 1);
	});
	it('SAE J1349 changes nothing in its own air: 25 °C, 990 hPa dry', () => {
		expect(saeJ1349Factor(25, 99)).toBeCloseTo(1, 3);
	});
	it('SAE J1349 worked by hand: 35 °C and 960 hPa dry', () => {
		// 1.18 × 990/960 × √(308/298) − 0.18
		expect(saeJ1349Factor(35, 96)).toBeCloseTo(1.18 * 1.03125 * Math.sqrt(308 / 298) - 0.18, 6);
		expect(saeJ1349Factor(10, 102)).toBeLessThan(1);
	});
});

describe('power from the road', () => {
	const road = { massKg: 1400, dragAreaM2: 0.66, airDensityKgM3: 1.2 };
	it('is what the formula gives by hand', () => {
		// 1400 kg in a gear of 6: factor 1.04 + 0.09 = 1.13; at 30 m/s and 2 m/s².
		expect(effectiveMass(1400, 6)).toBeCloseTo(1582, 6);
		const expected = (1582 * 2 + 0.5 * 1.2 * 0.66 * 900 + 0.013 * 1400 * 9.80665) * 30;
		expect(roadPowerW(road, 1582, 2, 30)).toBeCloseTo(expected, 3);
	});
	it('two directions on a slope average out', () => {
		const level = roadPowerW(road, 1582, 2, 30);
		const mean = (roadPowerW(road, 1582, 2, 30, 0.02) + roadPowerW(road, 1582, 2, 30, -0.02)) / 2;
		expect(mean).toBeCloseTo(level, 6);
	});
	const vehicle = vehicleWith(
		{},
		{
			massKg: 1400,
			dragAreaM2: 0.66,
			transmission: { gears: [3.2, 2, 1.5], finalDrive: 4, tyreCircumferenceM: 2 }
		}
	);
	// Third gear: 1000 / 60 / 2 × 1.5 × 4 = 50 rpm per km/h; 4000 rpm in 6 s are 80 km/h, 3.7 m/s².
	const input = prepare(
		handMade(30, 50, { ...pullShapes(), speed: (t) => pullShapes()['rpm']!(t) / 50, gear: () => 3 }),
		{ vehicle }
	);
	it('finds the power that a constant acceleration needs, with its uncertainty', () => {
		const p = pullPower(input.frame, input.segments, vehicle, input.segments.pulls[0]!, 1.2);
		if ('missing' in p) throw new Error(p.missing);
		const at = p.rpm.indexOf(5125);
		const v = 5125 / 50 / 3.6;
		expect(p.powerKw[at]!).toBeCloseTo(roadPowerW(road, effectiveMass(1400, 6), 80 / 3.6 / 6, v) / 1000, 0);
		expect(p.torqueNm[at]!).toBeCloseTo((p.powerKw[at]! * 60_000) / (2 * Math.PI * 5125), 3);
		expect(p.uncertaintyPct).toBeGreaterThan(2);
		expect(p.uncertaintyPct).toBeLessThan(8);
	});
	it('says what is missing', () => {
		const p = pullPower(input.frame, input.segments, vehicleWith(), input.segments.pulls[0]!, 1.2);
		expect(p).toEqual({ missing: 'the mass of the vehicle is not stated' });
	});
});

describe('timeslips', () => {
	it('from a constant 4 m/s²: s = ½ a t², worked by hand', () => {
		const frame = new Frame(
			handMade(40, 50, {
				rpm: () => 3000,
				pedal: (t) => (t < 5 ? 0 : 100),
				speed: (t) => (t < 5 ? 0 : Math.min(250, 4 * (t - 5) * 3.6))
			})
		);
		const [slip] = timeslips(frame);
		expect(slip!.startS).toBeCloseTo(5.1, 1);
		// Two km/h count as standing still: the clock starts that much later, as beams do.
		expect(slip!.ft60!).toBeCloseTo(Math.sqrt((2 * 18.288) / 4) - 0.13, 1);
		expect(slip!.eighth!).toBeCloseTo(Math.sqrt((2 * 201.168) / 4) - 0.13, 1);
		expect(slip!.quarter!).toBeCloseTo(Math.sqrt((2 * 402.336) / 4) - 0.13, 1);
		expect(slip!.quarterKmh!).toBeCloseTo(Math.sqrt(2 * 4 * 402.336) * 3.6, 0);
	});
	it('keeps what a short run reached, and knows no run without speed', () => {
		const short = new Frame(
			handMade(20, 20, {
				rpm: () => 3000,
				pedal: (t) => (t < 5 ? 0 : 100),
				speed: (t) => (t < 5 ? 0 : t < 12 ? 4 * (t - 5) * 3.6 : 0)
			})
		);
		expect(timeslips(short)[0]).toMatchObject({ eighth: null, quarter: null });
		// The same run with a third of the throttle is street driving; with the throttle lifted after 60 km/h it ends there.
		const speed = (t: number) => (t < 5 ? 0 : 4 * (t - 5) * 3.6);
		const driven = (pedal: (t: number) => number) =>
			timeslips(new Frame(handMade(40, 20, { rpm: () => 3000, pedal, speed })));
		expect(driven((t) => (t < 5 ? 0 : 35))).toEqual([]);
		expect(driven((t) => (t < 5 ? 0 : 100))).toHaveLength(1);
		expect(driven((t) => (t < 5 || t > 10 ? 0 : 100))[0]).toMatchObject({
			ft60: expect.any(Number),
			quarter: null
		});
		expect(timeslips(new Frame(handMade(40, 20, { rpm: () => 3000, speed })))).toEqual([]);
		expect(timeslips(new Frame(handMade(5, 20, { rpm: () => 900 })))).toEqual([]);
	});
});

describe('a log in figures', () => {
	it('has extremes and medians, pulls by 500 rpm and the day’s air', () => {
		const s = logSummary(
			prepare(handMade(60, 20, { ...pullShapes(), ambientTemp: () => 20, iat: (t) => 30 + t / 10 }), {
				vehicle: vehicleWith({ aspiration: 'na' })
			})
		);
		expect(s.channels.find((c) => c.id === 'rpm')).toMatchObject({ min: 2500, median: 2500 });
		expect(s.channels.find((c) => c.id === 'injDuty')!.max).toBeGreaterThan(40);
		const pull = s.pulls[0]!;
		expect(pull.rpm.slice(0, 3)).toEqual([2500, 3000, 3500]);
		expect(pull.values['target']![3]).toBeCloseTo(0.8, 3);
		expect(pull.noPower).toContain('road speed');
		expect(s.air!.saeFactor).toBeCloseTo(saeJ1349Factor(20, 100), 6);
	});
});

describe('the mean of several pulls', () => {
	const pull = (rpm: number[], kw: number[]): RoadPower => ({
		rpm,
		powerKw: kw,
		torqueNm: kw.map((p, i) => (p * 60_000) / (2 * Math.PI * rpm[i]!)),
		uncertaintyPct: 5,
		levelUncertaintyPct: 3,
		peakKw: Math.max(...kw),
		peakNm: 0
	});
	const up = pull([3125, 3375, 3625], [90, 95, 99]);
	const down = pull([3375, 3625, 3875], [105, 111, 115]);
	it('over the engine speeds that all of them have; the slope goes only where the road was driven both ways', () => {
		const both = meanPower([up, down], true)!;
		expect(both.rpm).toEqual([3375, 3625]);
		expect(both.powerKw).toEqual([100, 105]);
		expect(both.peakKw).toBe(105);
		expect(both.uncertaintyPct).toBe(3);
		expect(meanPower([up, down], false)!.uncertaintyPct).toBe(5);
		// Torque of the mean power: P / (2π n).
		expect(both.torqueNm[0]).toBeCloseTo((100_000 * 60) / (2 * Math.PI * 3375), 6);
	});
	it('none where there is nothing in common', () => {
		expect(meanPower([], true)).toBeNull();
		expect(meanPower([up, pull([5125], [100])], true)).toBeNull();
	});
});

describe('slips as the strip prints them', () => {
	const slip = { ft60: 2.11, eighth: 8.82, eighthKmh: null, quarter: 13.5, quarterKmh: 168 };
	it('are taken as they are (common practice: 2.11, 8.82 and 13.50 s)', () => {
		expect(checkedSlip(slip)).toEqual(slip);
		expect(checkedSlip({ ...slip, ft60: null, quarter: null })).toMatchObject({ eighth: 8.82 });
	});
	it('times that do not follow one another, or none at all, are refused in words', () => {
		expect(() => checkedSlip({ ...slip, quarter: 8.5 })).toThrow('8.5 s to the 1/4 mile is not after 8.82 s');
		expect(() => checkedSlip({ ...slip, ft60: null, eighth: null, quarter: null })).toThrow(
			'at least one time'
		);
		expect(() => checkedSlip({ ...slip, ft60: -1 })).toThrow();
	});
});
