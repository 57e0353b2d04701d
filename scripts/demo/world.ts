/** The demo world: an invented workshop's customers, vehicles and stories. Every log in it comes from the stand-in vehicle. */
import { plugLook } from '../../src/core/simulator/plug-look.ts';
import type { Goal } from '../../src/core/fuelling/goal.ts';
import type { Maxima } from '../../src/core/evidence/maxima.ts';
import type { Plugs } from '../../src/core/plugs/document.ts';
import type { Swap } from '../../src/core/swaps/document.ts';
import type { Faults } from '../../src/core/simulator/faults.ts';
import type { TemplateId } from '../../src/core/planning/templates.ts';
import type { Calibration } from '../../src/core/calibration/document.ts';
import { parseVehicle, type Vehicle } from '../../src/core/vehicle/document.ts';

import { base, timid, withAirModel, withCylinderTrims } from './calibrations.ts';
import { VEHICLES } from '../../src/core/simulator/vehicles.ts';

export interface Story {
	/** What the controller kept as maxima, typed on the newest revision. */
	maxima?: Maxima;
	customer: string;
	email: string | null;
	title: string;
	vehicle: Vehicle;
	calibration: Calibration;
	record?: { goals: string; doneBefore: string; agreed: string };
	/** What it is to reach, and how far its stages are: the ordinary fuel called done, and the fill after it. */
	goal?: Goal;
	between?: { words: string; fill: { ethanolPct: string; words: string }; hoursAgo: number };
	plan?: TemplateId;
	speedCapKmh?: number;
	/** Gears for full throttle, where the tuner named others than were advised. */
	gears?: number[];
	notes?: string[];
	inspection?: [item: string, state: 'fine' | 'not-fine' | 'unsure', remark: string][];
	/** Logs in order, each with what was wrong with the car then and whether a revision follows it. */
	logs: {
		name: string;
		faults: Faults;
		seed: number;
		/** `rung`: what the ladder proposes is released. */
		then?: 'release' | 'draft' | 'rung';
		/** A knock monitor of its own was logged beside the controller's sensor. */
		monitor?: true;
		hoursAgo: number;
		words?: string;
		answers?: Record<string, string>;
		/** A problem that was recorded, and when it happened. */
		problemAtS?: number;
		/** A swap test that is begun on this log; the next log answers it. */
		swap?: { document: Swap; finding: string };
		/** Plugs that were read after it. */
		plugs?: Plugs;
		/** Other injectors, fitted after it: fields of the sheet. A draft of the same fuel is released for them. */
		fits?: Record<string, string>;
		/** The file that was really in the car, when it isn't the one that was released. */
		reallyWith?: 'baseline';
	}[];
}

/** Timing gives torque, as in an engine that was held back by it. */
const GIVES: Faults = { torqueTopDeg: 36 };

const kept = (values: Maxima['values']): Maxima => ({
	schema: 'tanto.maxima/1',
	source: 'the controller’s page of maxima, photographed',
	since: null,
	values
});

export function stories(): Story[] {
	const v = VEHICLES;
	const small = parseVehicle({
		...v.marl,
		name: 'Tavi Marl 1.8 gravel-sprint',
		engine: { ...v.marl.engine, displacementL: 1.8 }
	});
	const road = parseVehicle({
		...v.sledge,
		name: 'Tavi Sledge 2.5 road',
		injectors: { ...v.sledge.injectors, flowCcMin: 720 }
	});
	const top = parseVehicle({ ...v.marl, name: 'Tavi Marl 2.0 hill-climb' });
	const ferry = parseVehicle({ ...v.drover, name: 'Hesper Drover 5.7 ferry' });
	const road1600 = parseVehicle({ ...v.finch, name: 'Orsa Finch 1.6 road' });
	return [
		{
			customer: 'Ines Varga',
			email: 'ines@varga.example',
			title: 'Kestrel: first tune after the turbo swap',
			vehicle: v.kestrel,
			calibration: base(v.kestrel, 'speed-density', 'as driven in', { fuelError: (_, l) => -0.04 * l }),
			record: {
				goals: 'Safe on pump fuel, about 1.8 bar absolute. Two hill climbs in spring.',
				doneBefore: 'Turbo and injectors swapped over the winter; never driven hard since.',
				agreed: 'No full throttle beyond the first log until both banks were seen.'
			},
			plan: 'full-throttle',
			gears: [3, 4],
			notes: ['Bought with a workshop map of unknown origin. Ask for the injector flow sheet.'],
			inspection: [
				['clamps', 'fine', 'All new, tightened twice.'],
				['coolant', 'fine', ''],
				['oil', 'fine', ''],
				['leaks', 'unsure', 'A damp spot under the right rail, smells of nothing.'],
				['plugs', 'fine', 'New, one step colder.']
			],
			logs: [
				{
					name: 'kestrel-evening-run.csv',
					faults: { bankFlow: [1, 0.89] },
					seed: 21,
					hoursAgo: 26,
					words: 'Pulls well, a little rough at idle since the swap.',
					answers: { fuel: 'RON 98, half full', weather: '11 °C, dry', where: 'closed test hill' }
				}
			]
		},
		{
			customer: 'Jon Abel',
			email: 'jon@abel.example',
			title: 'Marl: knock at the top on pump fuel',
			vehicle: v.marl,
			calibration: base(v.marl, 'pulse-width', 'sprint map of last season', {
				timingMarginDeg: -3.5,
				fuelError: (r, l) => 0.05 * r - 0.03 * l
			}),
			plan: 'full-throttle',
			gears: [3, 4],
			logs: [{ name: 'marl-testhill-3.csv', faults: { octaneRon: 97 }, seed: 5, hoursAgo: 5 }]
		},
		{
			customer: 'Orla Teague',
			email: null,
			title: 'Drover: smooth towing',
			vehicle: v.drover,
			calibration: base(v.drover, 'speed-density', 'delivered', {
				fuelError: (r, l) => 0.09 * (1 - l) - 0.07 * r,
				timingMarginDeg: 4
			}),
			goal: { schema: 'tanto.goal/1', powerHp: 380, ethanolPct: 60, candidatesCcMin: [420, 550, 650] },
			between: {
				words: 'Mixture within a percent from idle to the rev limit, no knock in two pulls.',
				fill: { ethanolPct: '57.5', words: 'run down to a quarter, then full from the co-operative' },
				hoursAgo: 4
			},
			logs: [
				{ name: 'drover-first.csv', faults: {}, seed: 31, then: 'release', hoursAgo: 120 },
				{ name: 'drover-with-R1.csv', faults: {}, seed: 32, hoursAgo: 9 }
			]
		},
		{
			customer: 'Pell & Daughters Racing, Upper Quarry Works',
			email: 'office@pell.example',
			title: 'Finch: revised cams, new exhaust, new trumpets, everything checked over the winter',
			vehicle: v.finch,
			calibration: base(v.finch, 'speed-density', 'cams degreed in', {
				fuelError: (r) => 0.06 - 0.12 * r,
				timingMarginDeg: 5
			}),
			logs: [{ name: 'finch-shakedown.csv', faults: {}, seed: 41, then: 'release', hoursAgo: 50 }]
		},
		{
			customer: 'Rook Halloran',
			email: null,
			title: 'Sledge: rattle that looks like knock, small injectors',
			vehicle: v.sledge,
			calibration: base(v.sledge, 'speed-density', 'club day', { boostKpa: 205, timingMarginDeg: 6 }),
			logs: [{ name: 'sledge-club-day.csv', faults: { falseKnockPerS: 1.3 }, seed: 51, hoursAgo: 2 }]
		},
		{
			customer: 'Ada Wren',
			email: null,
			title: 'Kestrel no. 2: waiting for the first log',
			vehicle: parseVehicle({ ...v.kestrel, name: 'Orsa Kestrel 3.2 road' }),
			calibration: base(
				parseVehicle({ ...v.kestrel, name: 'Orsa Kestrel 3.2 road' }),
				'speed-density',
				'as received'
			),
			plan: 'street-baseline',
			maxima: kept({ duty: 94, knock: 2, coolant: 104, intake: 58, oil: 118 }),
			logs: []
		},
		{
			customer: 'Jon Abel',
			email: 'jon@abel.example',
			title: 'Marl 1.8: came back with the old file in it',
			vehicle: small,
			calibration: base(small, 'speed-density', 'as received', { timingMarginDeg: -2 }),
			logs: [
				{ name: 'marl18-first.csv', faults: {}, seed: 61, then: 'release', hoursAgo: 70 },
				{ name: 'marl18-second.csv', faults: {}, seed: 62, hoursAgo: 20, reallyWith: 'baseline' }
			]
		},
		{
			customer: 'Mattis Roke',
			email: null,
			title: 'Kestrel no. 3: one bank lean, injectors swapped',
			vehicle: parseVehicle({ ...v.kestrel, name: 'Orsa Kestrel 3.2 club' }),
			calibration: base(
				parseVehicle({ ...v.kestrel, name: 'Orsa Kestrel 3.2 club' }),
				'speed-density',
				'as received',
				{ timingMarginDeg: 6 }
			),
			maxima: kept({ duty: 81, knock: 0, coolant: 98, intake: 49, oil: 109 }),
			logs: [
				{
					name: 'kestrel3-first.csv',
					faults: { bankFlow: [1, 0.93] },
					seed: 71,
					hoursAgo: 60,
					swap: {
						document: { schema: 'tanto.swap/1', kind: 'injectors-side-to-side' },
						finding: 'bank.mismatch b2'
					}
				},
				{ name: 'kestrel3-swapped.csv', faults: { bankFlow: [0.93, 1] }, seed: 72, hoursAgo: 12 }
			]
		},
		{
			customer: 'Teal & Sparrow',
			email: null,
			title: 'Ousel: plugs after three passes',
			vehicle: v.ousel,
			calibration: withCylinderTrims(
				base(v.ousel, 'speed-density', 'eighth-mile', { timingMarginDeg: 7, boostKpa: 190 }),
				[0, 3, 0, -2, 0, 0, 0, 0]
			),
			logs: [
				{
					name: 'ousel-pass3.csv',
					faults: {},
					seed: 81,
					hoursAgo: 6,
					plugs: {
						schema: 'tanto.plugs/1',
						heatRange: 9,
						rangeCounts: 'higher-is-colder',
						plated: true,
						newForSession: true,
						passes: 3,
						cutAfterPass: true,
						fuel: 'ethanol 85',
						boostKpa: 190,
						readings: [0, 2.8, 0.8, 2, 0, 0, 0, 0].map((leanPct, i) =>
							plugLook({ cylinder: i + 1, leanPct, overDeg: [0, 0, -0.4, 0, 0, 1, -1, 0][i]! })
						)
					}
				}
			]
		},
		{
			customer: 'Wren Adair',
			email: null,
			title: 'Sledge no. 2: timing cut to 6° out of fear, found again',
			vehicle: road,
			calibration: timid(base(road, 'speed-density', 'as received', { boostKpa: 165 }), 6),
			record: {
				goals: 'What it made before the rattle, and no rattle.',
				doneBefore:
					'All timing under load taken out to 6° for a rattle at one place; the heat shield was loose.',
				agreed: 'One degree a step, a monitor on the block beside it, three pulls each time.'
			},
			goal: { schema: 'tanto.goal/1', timingCeilingDeg: 14 },
			logs: [
				...[0, 1, 2].map((n) => ({
					name: `sledge2-step-${n}.csv`,
					faults: GIVES,
					seed: 90 + n,
					then: 'rung' as const,
					monitor: true as const,
					hoursAgo: 100 - 24 * n
				})),
				{ name: 'sledge2-step-3.csv', faults: GIVES, seed: 93, monitor: true, hoursAgo: 7 }
			]
		},
		{
			customer: 'Wren Adair',
			email: null,
			title: 'Marl no. 2: its own sensor reads rich at the top only',
			vehicle: top,
			calibration: base(top, 'speed-density', 'as received', { timingMarginDeg: 6, fuelError: () => -0.02 }),
			logs: [
				{
					name: 'marl2-first.csv',
					faults: { factoryDriftAt: { fromRpm: 5200, share: 0.08 } },
					seed: 101,
					hoursAgo: 14
				}
			]
		},
		{
			customer: 'Mattis Roke',
			email: null,
			title: 'Finch no. 2: lean at once, or a cylinder that doesn’t burn',
			vehicle: road1600,
			calibration: base(road1600, 'speed-density', 'as received', { timingMarginDeg: 6 }),
			logs: [
				{
					name: 'finch2-first.csv',
					faults: { deadCylinder: { cylinder: 3, fromS: 330, rpm: [4300, 6300] } },
					seed: 111,
					hoursAgo: 8
				}
			]
		},
		{
			customer: 'Orla Teague',
			email: null,
			title: 'Drover no. 2: an air model that is high at the top, then other injectors',
			vehicle: ferry,
			calibration: withAirModel(
				base(ferry, 'maf', 'as received', { timingMarginDeg: 6 }),
				ferry,
				(rpm, kpa) => (rpm >= 3500 && kpa >= 70 ? 0.18 : 0)
			),
			logs: [
				{
					name: 'drover2-first.csv',
					faults: {},
					seed: 121,
					then: 'release',
					hoursAgo: 90,
					fits: {
						'injectors.flowCcMin': '550',
						'injectors.ratedPressureKpa': '300',
						'injectors.testFluidKgL': '0.745',
						'injectors.deadTimeMs': '8: 2.4, 10: 1.6, 12: 1.15, 14: 0.86, 16: 0.7',
						what: 'Injectors of 550 cc/min, from the flow sheet of the set'
					}
				},
				{ name: 'drover2-other-injectors.csv', faults: {}, seed: 122, hoursAgo: 11 }
			]
		}
	];
}
