import { describe, expect, it } from 'vitest';
import { FieldErrors } from '../input-error.ts';
import { parseVehicle } from './document.ts';
import { FIELDS } from './fields.ts';
import { KINDS } from './kinds.ts';
import { needsOf } from './needs.ts';
import { sheetOf, vehicleFromSheet } from './sheet.ts';

const full = parseVehicle({
	schema: 'tanto.vehicle/1',
	name: 'Orsa Kestrel',
	engine: {
		layout: 'v',
		cylinders: 6,
		banks: [
			[1, 3, 5],
			[2, 4, 6]
		],
		firingOrder: [1, 2, 3, 4, 5, 6],
		displacementL: 3.2,
		compressionRatio: 9.4,
		injection: 'direct',
		aspiration: 'turbo',
		idleRpm: 850,
		revLimitRpm: 7000
	},
	controller: {
		hardware: 'C7',
		software: '2104',
		locked: ['gearbox', 'dash'],
		learnedTrimAtFullLoad: 'applied'
	},
	nitrous: { shotHp: 100 },
	transmission: { type: 'manual', gears: [3.4, 2.1], finalDrive: 3.9, tyreCircumferenceM: 1.95 },
	massKg: 1300,
	dragAreaM2: 0.7,
	fuel: { name: 'RON 98', ethanolPct: 5, octaneRon: 98, stoich: 14.4 },
	injectors: {
		flowCcMin: 700,
		ratedPressureKpa: 300,
		basePressureKpa: 300,
		injectionsPerCycle: 1,
		pressureReference: 'controlled',
		windowDeg: 250,
		deadTimeMs: [
			[10, 1.8],
			[14, 0.9]
		]
	},
	sensors: {
		lambda: [{ channel: 'lambda.b1', kind: 'factory', site: 'bank1', pressureCompensated: false }],
		mapFullScaleKpa: 300,
		gaugeStoich: 14.7,
		baro: 'own'
	},
	baselines: {
		coolantIdleC: [76, 100],
		idleMapKpa: 38,
		ambientPressureKpa: 98,
		fullThrottlePct: 99,
		boostKpa: [[2500, 140]]
	},
	limits: { lambdaLeanBoosted: 0.84 },
	ownKey: { kept: true }
});

describe('the build sheet', () => {
	it('a vehicle through the form and back is the same, with what the form does not ask', () => {
		expect(vehicleFromSheet(sheetOf(full), full)).toEqual(full);
	});
	it('what is emptied is gone from the document, and an empty part with it', () => {
		const fields = { ...sheetOf(full), massKg: '', 'nitrous.shotHp': '' };
		const v = vehicleFromSheet(fields, full);
		expect(v).not.toHaveProperty('massKg');
		expect(v).not.toHaveProperty('nitrous');
		expect(v.limits).toEqual(full.limits);
	});
	it.each([
		['engine.cylinders', '', 'Cylinders: is needed'],
		['engine.displacementL', 'three', 'Displacement: "three" is not a number'],
		['transmission.gears', '3.4 x', 'Gear ratios: "x" is not a number'],
		['injectors.deadTimeMs', '10-1.8', '"10-1.8" is no pair'],
		['engine.layout', 'w', '"w" is none of'],
		['engine.revLimitRpm', '-5', 'Rev limit: Too small'],
		['engine.banks', '1 3 99 / 2 4 6', 'Cylinders by bank: Too big']
	])('%s = "%s" is refused by its name', (path, value, message) => {
		expect(() => vehicleFromSheet({ ...sheetOf(full), [path]: value })).toThrow(message);
	});
	it('says all that is wrong at once, each under its field', () => {
		const wrong = { name: '', 'engine.cylinders': '40', massKg: 'heavy', 'engine.idleRpm': '850' };
		let refused: unknown;
		try {
			vehicleFromSheet({ ...sheetOf(full), ...wrong });
		} catch (e) {
			refused = e;
		}
		expect(refused).toBeInstanceOf(FieldErrors);
		const { fields, message } = refused as FieldErrors;
		expect(fields).toEqual({
			name: 'is needed',
			'engine.cylinders': expect.stringContaining('found 40'),
			massKg: '"heavy" is not a number'
		});
		expect(message).toMatch(/^3 fields need another look\. Vehicle: is needed; .*Cylinders: .*40.*/);
	});
	// Rolling circumferences of the makers' tables: 205/55 R16 1928 mm, 195/65 R15 1935 mm, 225/45 R17 1935 mm (from memory).
	it.each([
		['205/55 R16', 1.928],
		['195/65R15 91H', 1.935],
		['P225/45 ZR17', 1.935],
		['1,94', 1.94]
	])('takes a tyre as it is written: %s', (text, metres) => {
		const v = vehicleFromSheet({ ...sheetOf(full), 'transmission.tyreCircumferenceM': text });
		expect(v.transmission?.tyreCircumferenceM).toBeCloseTo(metres, 2);
	});
	it.each([
		['as the hint has it', '8:2.4 10:1.6 14:0.86'],
		['as people write them', '8: 2.4, 10: 1.6, 14: 0.86'],
		['as two columns that were pasted', '8\t2.4\n10\t1.6\n14\t0.86\n'],
		['as two rows that were pasted', '8\t10\t14\r\n2.4\t1.6\t0.86'],
		['with decimal commas', '8: 2,4; 10: 1,6; 14: 0,86']
	])('takes pairs %s', (_, text) => {
		const v = vehicleFromSheet({ ...sheetOf(full), 'injectors.deadTimeMs': text });
		expect(v.injectors?.deadTimeMs).toEqual([
			[8, 2.4],
			[10, 1.6],
			[14, 0.86]
		]);
	});
	it('takes a decimal comma', () => {
		expect(vehicleFromSheet({ ...sheetOf(full), 'engine.displacementL': '3,5' }).engine.displacementL).toBe(
			3.5
		);
	});
	it('every kind is a valid vehicle once it has a name', () => {
		for (const k of KINDS) {
			for (const path of Object.keys(k.fields))
				expect(
					FIELDS.some((f) => f.path === path),
					path
				).toBe(true);
			expect(vehicleFromSheet({ ...k.fields, name: k.title }).engine.cylinders).toBeGreaterThan(0);
		}
	});
	it('says what waits for a missing fact, in codes that exist, and nothing of a vehicle that is known', () => {
		const bare = vehicleFromSheet({
			name: 'x',
			'engine.cylinders': '4',
			'engine.aspiration': 'turbo',
			'engine.revLimitRpm': '7000'
		});
		const needs = needsOf(bare);
		expect(needs.map((n) => n.path)).toEqual(
			expect.arrayContaining([
				'engine.injection',
				'baselines.idleMapKpa',
				'baselines.boostKpa',
				'sensors.baro'
			])
		);
		expect(needsOf(full)).toEqual([]);
	});
});
