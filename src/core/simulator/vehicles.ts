/** The vehicles that the stand-in can be, all invented. */
import { parseVehicle, type Vehicle } from '../vehicle/document.ts';
import { bankCount } from '../vehicle/facts.ts';

const DEAD: [number, number][] = [
	[8, 2.6],
	[10, 1.8],
	[12, 1.2],
	[14, 0.9],
	[16, 0.7]
];

function vehicle(name: string, engine: object, more: object): Vehicle {
	return parseVehicle({
		schema: 'tanto.vehicle/1',
		name,
		engine: { injection: 'port', idleRpm: 850, ...engine },
		...more
	});
}

const injectors = (flowCcMin: number) => ({
	flowCcMin,
	ratedPressureKpa: 300,
	basePressureKpa: 300,
	injectionsPerCycle: 1,
	pressureReference: 'manifold',
	deadTimeMs: DEAD
});

const SIX_SPEED = {
	type: 'manual',
	gears: [3.4, 2.1, 1.45, 1.1, 0.86, 0.7],
	finalDrive: 3.9,
	tyreCircumferenceM: 1.95
};
const FIVE_SPEED = {
	type: 'manual',
	gears: [3.5, 2.05, 1.38, 1.03, 0.82],
	finalDrive: 4.1,
	tyreCircumferenceM: 1.88
};

export const VEHICLES = {
	kestrel: vehicle(
		'Orsa Kestrel 3.2 hill-climb',
		{
			layout: 'v',
			cylinders: 6,
			banks: [
				[1, 3, 5],
				[2, 4, 6]
			],
			displacementL: 3.2,
			compressionRatio: 9.4,
			aspiration: 'turbo',
			revLimitRpm: 7000
		},
		{
			transmission: SIX_SPEED,
			massKg: 1310,
			fuel: { name: 'RON 98', ethanolPct: 5, octaneRon: 98 },
			injectors: injectors(720),
			controller: { hardware: 'Lumen C7', software: 'C7-2104', learnedTrimAtFullLoad: 'applied' }
		}
	),
	marl: vehicle(
		'Tavi Marl 2.0 gravel-sprint',
		{
			layout: 'inline',
			cylinders: 4,
			displacementL: 2.0,
			compressionRatio: 9.0,
			aspiration: 'turbo',
			revLimitRpm: 7200
		},
		{
			transmission: FIVE_SPEED,
			massKg: 1180,
			fuel: { name: 'RON 98', ethanolPct: 5, octaneRon: 98 },
			injectors: injectors(640),
			controller: { hardware: 'Lumen C4', software: 'C4-1187', learnedTrimAtFullLoad: 'applied' },
			sensors: {
				lambda: [
					{ channel: 'lambda.b1', kind: 'factory', site: 'bank1' },
					{ channel: 'lambda.ref', kind: 'independent', site: 'bank1' }
				]
			}
		}
	),
	ousel: vehicle(
		'Brack Ousel 8.2 quarter-mile',
		{
			layout: 'v',
			cylinders: 8,
			banks: [
				[1, 3, 5, 7],
				[2, 4, 6, 8]
			],
			displacementL: 8.2,
			compressionRatio: 10.5,
			aspiration: 'supercharged',
			revLimitRpm: 7200,
			idleRpm: 1100
		},
		{
			transmission: {
				type: 'automatic',
				gears: [2.2, 1.4, 1],
				finalDrive: 4.3,
				tyreCircumferenceM: 2.5
			},
			massKg: 1420,
			dragAreaM2: 0.7,
			fuel: { name: 'ethanol 85', ethanolPct: 85, octaneRon: 108 },
			injectors: injectors(1900)
		}
	),
	drover: vehicle(
		'Hesper Drover 5.7 tow',
		{
			layout: 'v',
			cylinders: 8,
			banks: [
				[1, 3, 5, 7],
				[2, 4, 6, 8]
			],
			displacementL: 5.7,
			compressionRatio: 10.2,
			aspiration: 'na',
			revLimitRpm: 5800,
			idleRpm: 700
		},
		{
			transmission: {
				type: 'automatic',
				gears: [3.8, 2.4, 1.6, 1.15, 0.85, 0.68],
				finalDrive: 3.7,
				tyreCircumferenceM: 2.4
			},
			massKg: 2650,
			dragAreaM2: 1.1,
			fuel: { name: 'RON 95', ethanolPct: 10, octaneRon: 95 },
			injectors: injectors(420)
		}
	),
	finch: vehicle(
		'Orsa Finch 1.6 hill-climb, the long one with the carbon doors and the second radiator',
		{
			layout: 'inline',
			cylinders: 4,
			displacementL: 1.6,
			compressionRatio: 11.4,
			aspiration: 'na',
			revLimitRpm: 8200,
			idleRpm: 1000
		},
		{
			transmission: FIVE_SPEED,
			massKg: 820,
			fuel: { name: 'RON 100', ethanolPct: 5, octaneRon: 100 },
			injectors: injectors(330),
			controller: { learnedTrimAtFullLoad: 'ignored' }
		}
	),
	sledge: vehicle(
		'Tavi Sledge 2.5 gravel-sprint',
		{
			layout: 'flat',
			cylinders: 4,
			banks: [
				[1, 3],
				[2, 4]
			],
			displacementL: 2.5,
			compressionRatio: 8.8,
			aspiration: 'turbo',
			revLimitRpm: 6800
		},
		{
			transmission: SIX_SPEED,
			massKg: 1390,
			fuel: { name: 'RON 98', ethanolPct: 5, octaneRon: 98 },
			injectors: injectors(470),
			controller: { learnedTrimAtFullLoad: 'applied' }
		}
	)
};

/** The controller's own sensors, and an instrument beside them or not. */
export function withSensors(v: Vehicle, instrument: boolean): Vehicle {
	const banks = bankCount(v);
	const own = Array.from({ length: banks }, (_, b) => ({
		channel: `lambda.b${b + 1}`,
		kind: 'factory' as const,
		site: `bank${b + 1}`,
		pressureCompensated: true
	}));
	const reference = {
		channel: 'lambda.ref',
		kind: 'independent' as const,
		site: banks === 2 ? 'collector' : 'bank1'
	};
	return { ...v, sensors: { ...v.sensors, lambda: instrument ? [...own, reference] : own } };
}
