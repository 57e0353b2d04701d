/** The fuel and injector planner against arithmetic by hand and what the trade knows of it. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { prepare } from '../evidence/prepare.ts';
import { profileOf } from '../limits/profile.ts';
import { densityAltitudeFt, standardPressureKpa } from '../performance/air.ts';
import { handMade, pulled, pullShapes, vehicleWith } from '../testing/hand-made.ts';
import { demandFromFigures, demandFromLog } from './demand.ts';
import { goalBoost, parseGoal, type Goal } from './goal.ts';
import { flowOf, massFactor, volumeFactor } from './injector.ts';
import { planFuel } from './plan.ts';

const goal = (more: Partial<Goal>): Goal => parseGoal({ schema: 'tanto.goal/1', ...more });
const vehicle = (injectors: object = {}, engine: object = {}, fuel: object = { ethanolPct: 0 }) =>
	vehicleWith(
		{ cylinders: 6, aspiration: 'turbo', ...engine },
		{
			fuel,
			injectors: {
				flowCcMin: 850,
				ratedPressureKpa: 300,
				basePressureKpa: 300,
				injectionsPerCycle: 1,
				pressureReference: 'manifold',
				deadTimeMs: [
					[12, 1.1],
					[13.5, 0.9],
					[15, 0.7]
				],
				...injectors
			}
		}
	);
const figures = (v = vehicle(), g = goal({ powerHp: 600, boostKpa: [[3000, 200]] })) =>
	demandFromFigures(v, g, profileOf(v.limits));

describe('from figures', () => {
	it('is what a handbook makes of it by hand: power × BSFC over injectors and duty', () => {
		// 600 hp × 0.625 lb/hp/h = 375 lb/h = 170.1 kg/h of petrol, six injectors: 28.35 kg/h each = 472.5 g/min,
		// 634 cm³/min of 0.745 kg/l. Of 850 cm³/min that is 74.6 %, and 0.9 ms at 7000 rpm is 5.25 % more.
		expect(figures().dutyPct({ flowCcMin: 850 }, 0, 'warm')).toBeCloseTo(74.6 + 5.25, 1);
		// The same the other way round: flow = power × BSFC / (injectors × usable duty).
		const usable = 0.8 - 0.0525;
		const flow = (600 * 0.625 * 453.59237) / 60 / 6 / 0.745 / usable;
		expect(figures().dutyPct({ flowCcMin: flow }, 0, 'warm')).toBeCloseTo(80, 6);
	});
	it('the worst day takes more: the air is 45 °C colder (absolute boost)', () => {
		const d = figures();
		const effective = (day: 'warm' | 'worst') => d.dutyPct({ flowCcMin: 850 }, 0, day) - 5.25;
		// Intake 45 °C against 10 °C.
		expect(effective('worst') / effective('warm')).toBeCloseTo((273.15 + 45) / (273.15 + 10), 6);
	});
	it('a set in the low 70s on a warm day stands at 82 to 85 % on the cold one (common practice)', () => {
		const d = figures(vehicle(), goal({ powerHp: 545, boostKpa: [[3000, 200]] }));
		expect(d.dutyPct({ flowCcMin: 850 }, 0, 'warm')).toBeGreaterThan(70);
		expect(d.dutyPct({ flowCcMin: 850 }, 0, 'warm')).toBeLessThan(75);
		expect(d.dutyPct({ flowCcMin: 850 }, 0, 'worst')).toBeGreaterThan(80);
		expect(d.dutyPct({ flowCcMin: 850 }, 0, 'worst')).toBeLessThan(86);
	});
	it('a flow of heptane passes 4 % less petrol (handbook density 0.684 kg/l)', () => {
		const rated = flowOf(vehicle({ testFluidKgL: 0.684 }), 1000, 0, 300);
		expect(rated).toBeCloseTo(958, 0);
	});
	it('flow goes with the root of the pressure over the injector, which falls under boost where it isn’t referenced', () => {
		expect(flowOf(vehicle(), 1000, 0, 400)).toBeCloseTo(1000 * Math.sqrt(4 / 3), 6);
		const atmosphere = figures(vehicle({ pressureReference: 'atmosphere' }));
		expect(atmosphere.dutyPct({ flowCcMin: 850 }, 0, 'warm')).toBeGreaterThan(
			figures().dutyPct({ flowCcMin: 850 }, 0, 'warm') * 1.15
		);
	});
	it('ethanol: mass with 1/stoich, pump volume with 1/(stoich·density) (handbook)', () => {
		expect(massFactor(100)).toBeCloseTo(14.7 / 9, 6);
		expect(volumeFactor(100)).toBeCloseTo((14.7 / 9) * (0.745 / 0.789), 6);
		const d = figures();
		expect(d.fuelLh(85) / d.fuelLh(0)).toBeCloseTo(volumeFactor(85), 6);
	});
	it('needs the power, and a direct injector its window', () => {
		expect(() => figures(vehicle(), goal({}))).toThrow(expect.objectContaining({ where: 'powerHp' }));
		expect(() => figures(vehicle({}, { injection: 'direct' }), goal({ powerHp: 300 }))).toThrow('window');
	});
});

describe('the worst day of a goal', () => {
	const worst = (worstDay: Goal['worstDay'], aspiration: 'na' | 'turbo' = 'na') => {
		const g = goal({ powerHp: 300, worstDay });
		const v = vehicle({}, { aspiration });
		return figures(v, g).dutyPct({ flowCcMin: 850 }, 0, 'worst');
	};
	it('said as pressure, altitude or density altitude is the same day (ISO 2533; US National Weather Service)', () => {
		const pressureHpa = 10 * standardPressureKpa(1500);
		expect(pressureHpa).toBeCloseTo(845.6, 0);
		const byPressure = worst({ ambientC: 0, pressureHpa });
		expect(worst({ ambientC: 0, altitudeM: 1500 })).toBeCloseTo(byPressure, 6);
		const feet = densityAltitudeFt(0, pressureHpa / 10);
		expect(worst({ ambientC: 0, densityAltitudeFt: feet })).toBeCloseTo(byPressure, 6);
	});
	it('colder is worse, higher is better, and of a temperature alone the pressure stays that of the limits', () => {
		expect(worst({ ambientC: -20, altitudeM: 0 })).toBeGreaterThan(worst({ ambientC: 0, altitudeM: 0 }));
		expect(worst({ ambientC: 0, altitudeM: 1500 })).toBeLessThan(worst({ ambientC: 0, altitudeM: 0 }));
		expect(worst({ ambientC: -10 })).toBeCloseTo(worst(undefined), 6);
	});
	it('is said one way', () =>
		expect(() => goal({ worstDay: { ambientC: 0, pressureHpa: 1000, altitudeM: 0 } })).toThrow('one of'));
});

describe('injectors to choose from with data of their own', () => {
	const g = goal({ powerHp: 450, boostKpa: [[3000, 200]] });
	it('a flow rated at 400 kPa is √(300/400) of it at 300 kPa', () => {
		const d = figures(vehicle({ ratedPressureKpa: 300 }), g);
		expect(d.dutyPct({ flowCcMin: 1000, ratedPressureKpa: 400 }, 0, 'warm')).toBeCloseTo(
			d.dutyPct({ flowCcMin: 1000 * Math.sqrt(0.75) }, 0, 'warm'),
			6
		);
	});
	it('half a millisecond more dead time is its share of the cycle, as a number or by supply', () => {
		const d = figures(vehicle(), g);
		const at = (deadTimeMs: number | [number, number][]) =>
			d.dutyPct({ flowCcMin: 1000, deadTimeMs }, 0, 'warm');
		const rpm = vehicle().engine.revLimitRpm;
		expect(at(1.5) - at(1)).toBeCloseTo((100 * 0.5 * rpm) / 120_000, 6);
		expect(
			at([
				[12, 2],
				[15, 1]
			])
		).toBeCloseTo(at(1.5), 6);
	});
});

describe('the plan', () => {
	const plan = (g: Partial<Goal>, own: number | null = 850) => {
		const full = goal({ powerHp: 545, boostKpa: [[3000, 200]], ...g });
		return planFuel(figures(vehicle(), full), full, own, 0);
	};
	it('lists every share with every flow, the goal’s own share among them', () => {
		const p = plan({ ethanolPct: 77, candidatesCcMin: [1300, 850] });
		expect(p.table.map((r) => [r.flowCcMin, r.ethanolPct])).toEqual(
			[850, 1300].flatMap((f) => [0, 10, 30, 50, 60, 70, 77, 85].map((e) => [f, e]))
		);
	});
	it('less ethanol is an answer: back to about 60 to 70 % keeps the injectors (common practice)', () => {
		const p = plan({ ethanolPct: 85, powerHp: 560, candidatesCcMin: [1050, 1500, 1700] }, 1150);
		expect(p.largestEthanolPct).toBeGreaterThanOrEqual(60);
		expect(p.largestEthanolPct).toBeLessThan(75);
		expect(p.smallestFlowCcMin).toBe(1500);
		expect(p.says.join()).toContain('less of it is an answer');
	});
	it('finds the largest share and the smallest injector at the edge of the duty', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 200, max: 900 }),
				fc.integer({ min: 0, max: 85 }),
				fc.integer({ min: 400, max: 2500 }),
				(powerHp, ethanolPct, own) => {
					const g = goal({ powerHp, ethanolPct, boostKpa: [[3000, 200]] });
					const d = figures(vehicle(), g);
					const p = planFuel(d, g, own, 0);
					const worst = (f: number, e: number) => d.dutyPct({ flowCcMin: f }, e, 'worst');
					const e = p.largestEthanolPct;
					if (e === null) expect(worst(own, 0)).toBeGreaterThan(80);
					else {
						expect(worst(own, e)).toBeLessThanOrEqual(80);
						if (e < 100) expect(worst(own, e + 1)).toBeGreaterThan(80);
					}
					const f = p.smallestFlowCcMin!;
					expect(worst(f, ethanolPct)).toBeLessThanOrEqual(80);
					expect(worst(f - 10, ethanolPct)).toBeGreaterThan(80);
				}
			),
			{ numRuns: 60 }
		);
	});
	it('says none where none of those to choose from does', () => {
		const p = plan({ ethanolPct: 85, candidatesCcMin: [400, 500] });
		expect(p.smallestFlowCcMin).toBeNull();
		expect(p.says.join()).toContain('None of 400 and 500');
	});
	it('sets the pump against 1.1 times the need on the worst day', () => {
		const need = plan({}).fuelLh;
		expect(plan({ pumpLh: need * 1.11 }).pump).toBe('enough');
		expect(plan({ pumpLh: need * 1.09 }).pump).toBe('short');
		expect(plan({}).pump).toBe('unknown');
	});
});

describe('from a log', () => {
	const logged = (v = vehicle({}, { revLimitRpm: 6500 })) =>
		prepare(
			handMade(60, 20, {
				...pullShapes(),
				iat: pulled(40, 30),
				ambientTemp: () => 20,
				vbat: () => 13.5,
				'pw.b1': pulled(12.9, 3)
			}),
			{ vehicle: v }
		);
	it('today’s duty is the logged one', () => {
		// 12.9 ms at 6500 rpm are 69.9 %: held for a tenth of a second it is a little less.
		const { nowPct } = demandFromLog(logged(), goal({}));
		expect(nowPct).toBeGreaterThan(68);
		expect(nowPct).toBeLessThan(69.9);
	});
	it('scales the part without dead time by flow, blend, boost and day', () => {
		const d = demandFromLog(logged(), goal({}));
		const dead = (0.9 * 6500) / 1200;
		const effective = d.dutyPct({ flowCcMin: 850 }, 0, 'warm') - dead;
		expect(d.dutyPct({ flowCcMin: 1700 }, 0, 'warm') - dead).toBeCloseTo(effective / 2, 4);
		// Pulse ∝ 1/(stoich·√density).
		const blend = massFactor(85) / Math.sqrt((0.85 * 0.789 + 0.15 * 0.745) / 0.745);
		expect((d.dutyPct({ flowCcMin: 850 }, 85, 'warm') - dead) / effective).toBeCloseTo(blend, 4);
		const boosted = demandFromLog(logged(), goal({ boostKpa: [[3000, 204]] }));
		expect((boosted.dutyPct({ flowCcMin: 850 }, 0, 'warm') - dead) / effective).toBeCloseTo(204 / 170, 4);
		// Intake 20 °C over the outside: 45 °C on a warm day, 10 °C on the worst.
		expect((d.dutyPct({ flowCcMin: 850 }, 0, 'worst') - dead) / effective).toBeCloseTo(
			(273.15 + 45) / (273.15 + 10),
			4
		);
	});
	it('needs the flow of what is in, and a pull', () => {
		const none = vehicle({ flowCcMin: undefined });
		expect(() => demandFromLog(logged(none), goal({}))).toThrow(
			expect.objectContaining({ where: 'injectors.flowCcMin' })
		);
		const idle = prepare(
			handMade(30, 20, { rpm: () => 900, map: () => 35, 'pw.b1': () => 2, iat: () => 30 }),
			{
				vehicle: vehicle()
			}
		);
		expect(() => demandFromLog(idle, goal({})).dutyPct({ flowCcMin: 850 }, 0, 'warm')).toThrow(
			'planned from'
		);
	});
});

describe('the goal', () => {
	it('gives boost by engine speed, held at its ends', () => {
		const g = goal({
			boostKpa: [
				[3000, 180],
				[6000, 210]
			]
		});
		expect([2000, 3000, 4500, 6000, 7000].map((r) => goalBoost(g, r))).toEqual([180, 180, 195, 210, 210]);
		expect(goalBoost(goal({}), 4000)).toBeNull();
	});
	it.each([
		[
			{
				boostKpa: [
					[6000, 200],
					[3000, 180]
				]
			},
			'boostKpa'
		],
		[{ ethanolPct: 120 }, 'ethanolPct'],
		[{ dutyMaxPct: 0 }, 'dutyMaxPct'],
		[{ candidatesCcMin: [850, -1] }, 'candidatesCcMin[1]']
	])('%j is refused with its path', (more, where) => {
		expect(() => goal(more as Partial<Goal>)).toThrow(expect.objectContaining({ where }));
	});
});

it('two different injectors of one flow are refused: the answer names them by it', () => {
	expect(() => goal({ candidatesCcMin: [1000, { flowCcMin: 1000, ratedPressureKpa: 400 }] })).toThrow(
		'told apart'
	);
	expect(goal({ candidatesCcMin: [1000, 1000] }).candidatesCcMin).toEqual([1000, 1000]);
});
