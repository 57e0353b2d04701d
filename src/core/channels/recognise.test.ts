import { describe, expect, it } from 'vitest';
import { candidatesByName } from './names.ts';
import type { ColumnFacts } from './reading.ts';
import { recogniseColumns } from './recognise.ts';

const context = { gaugeStoich: 14.7, baroKpa: 100 };
function facts(name: string, unit: string, min: number, max: number, median = (min + max) / 2): ColumnFacts {
	return { name, unit, min, max, median, textShare: 0 };
}
const one = (f: ColumnFacts) => recogniseColumns([f], context)[0];

describe('recognition by name, unit and range together', () => {
	it.each([
		['Engine Speed', 'rpm', 700, 6500, 'rpm'],
		['Manifold Absolute Pressure', 'kPa', 30, 180, 'map'],
		['Throttle Position', '%', 0, 100, 'tps'],
		['Accelerator Pedal', '%', 0, 100, 'pedal'],
		['Coolant Temp', '°C', 20, 95, 'ect'],
		['Intake Air Temperature', '°C', 20, 50, 'iat'],
		['Lambda Bank 2', 'λ', 0.7, 1.1, 'lambda.b2'],
		['Lambda Target', 'λ', 0.78, 1, 'lambda.target'],
		['Wideband Reference', 'AFR', 11, 15, 'lambda.ref'],
		['Short Term Fuel Trim Bank 1', '%', -8, 8, 'stft.b1'],
		['Long Term Fuel Trim Bank 2', '%', -8, 8, 'ltft.b2'],
		['Pulse Width Bank 2', 'ms', 1, 14, 'pw.b2'],
		['Ignition Timing', '°', -5, 40, 'spark'],
		['Knock Retard', '°', 0, 4, 'knockRetard'],
		['Knock Retard Cylinder 3', '°', 0, 4, 'knockRetard.cyl3'],
		['Misfires Cyl 4', '', 0, 9, 'misfire.cyl4'],
		['Injector Duty Cycle', '%', 1, 80, 'injDuty'],
		['Boost Target', 'kPa', 100, 180, 'boostTarget'],
		['Closed Loop Compensation', '%', -8, 9, 'stft.b1'],
		['CL comp', '%', -8, 9, 'stft.b1'],
		['CL Comp B2', '%', -8, 9, 'stft.b2'],
		['Fuel Correction', '%', -8, 9, 'stft.b1'],
		['Lambda integrator 2', '%', -8, 9, 'stft.b2'],
		['Fuel correction intake air', '%', -8, 9, undefined],
		['Cold start fuel correction', '%', 0, 40, undefined],
		['Knock Monitor', '%', 0, 90, 'knockMonitor'],
		['Independent knock monitor (%)', '', 0, 90, 'knockMonitor'],
		['lambda.cyl5', '', 0.8, 1, 'lambda.cyl5']
	])('%s (%s) is %s', (name, unit, min, max, id) => {
		expect(one(facts(name, unit, min, max))?.channel).toBe(id);
	});

	it('does not believe a name that the range contradicts', () => {
		expect(one(facts('Engine Speed', 'V', 0, 5))).toBeNull();
		expect(one(facts('Coolant Temp', '°C', 400, 900))).toBeNull();
	});

	it.each([
		['Coolant Temp', '', 60, 95, '°C'],
		['Coolant Temp', '', 140, 200, '°F'],
		['Lambda 1', '', 10.5, 16, 'AFR'],
		['Lambda 1', '', 0.75, 1.2, 'λ'],
		['Manifold Pressure', '', 30, 180, 'kPa'],
		['Manifold Pressure', '', 0.3, 1.8, 'bar'],
		['Fuel Rail Pressure', '', 3, 5, 'bar']
	])('%s without unit between %f and %f is in %s', (name, unit, min, max, expected) => {
		expect(one(facts(name, unit, min, max))?.unit.id).toBe(expected);
	});

	it('gives every channel to one column only, the better match first', () => {
		const found = recogniseColumns(
			[facts('Average Lambda', 'λ', 0.8, 1), facts('Lambda Bank 1', 'λ', 0.8, 1)],
			context
		);
		expect(found[1]?.channel).toBe('lambda.b1');
		expect(found[0]?.channel).not.toBe('lambda.b1');
	});

	it('takes a correction of lambda for no lambda', () => {
		expect(candidatesByName('Lambda Error Bank 1').map((c) => c.id)).not.toContain('lambda.b1');
	});
});

describe('what two units fit', () => {
	const many = (list: ColumnFacts[]) => recogniseColumns(list, context);
	it('coolant of 95 is °C, of 195 °F, of 140 is asked with both readings', () => {
		expect(one(facts('Coolant', '', 90, 99, 95))).toMatchObject({ unit: { id: '°C' }, undecided: null });
		expect(one(facts('Coolant', '', 185, 200, 195))).toMatchObject({ unit: { id: '°F' }, undecided: null });
		const asked = one(facts('Coolant', '', 135, 144, 140))!.undecided!;
		expect(asked.readings.map((r) => r.unit)).toEqual(['°C', '°F']);
		expect(asked.readings[1]!.median).toBeCloseTo(60, 6);
	});
	it('the rest of the file decides where it speaks for one system', () => {
		const metric = many([facts('Coolant', '°C', 80, 95), facts('Intake Air Temp', '', 20, 60, 45)]);
		expect(metric[1]).toMatchObject({ unit: { id: '°C' }, undecided: null });
		const imperial = many([facts('Coolant', '', 180, 200, 190), facts('Intake Air Temp', '', 40, 60, 52)]);
		expect(imperial[1]).toMatchObject({ unit: { id: '°F' }, undecided: null });
		expect(imperial[1]!.note).toContain('like the rest of the file');
	});
	it('road speed without a unit is left open where nothing else tells', () => {
		const alone = many([facts('Engine Speed', 'rpm', 800, 6000), facts('Vehicle Speed', '', 0, 90)]);
		expect(alone[1]!.undecided!.readings.map((r) => r.unit)).toEqual(['km/h', 'mph']);
	});
	it('a decision by hand ends the question', () => {
		const found = recogniseColumns(
			[facts('Coolant', '', 135, 144, 140)],
			context,
			new Map([['Coolant|', { channel: 'ect', unit: '°F' }]])
		)[0]!;
		expect(found).toMatchObject({ unit: { id: '°F' }, source: 'assigned', undecided: null });
	});
	it('a boost reading below zero is gauge pressure, whatever its unit says', () => {
		expect(one(facts('Boost', 'psi', -10, 15, -4))!.unit.id).toBe('psi gauge');
		expect(one(facts('Boost', 'kPa', -70, 80, -30))!.unit.id).toBe('kPa gauge');
		expect(one(facts('Manifold Pressure', 'psi', 4, 28, 12))!.unit.id).toBe('psi');
	});
	it('fuel pressure is over the atmosphere: a gauge adds no barometer to it', () => {
		expect(one(facts('Fuel Pressure', 'psig', 40, 60))!.conversion.offset).toBe(0);
	});
	it('temperatures without a unit share one scale: 68 of air beside 88 of coolant is the same twice', () => {
		const both = (air: number, coolant: number) =>
			many([
				facts('Coolant', '', coolant - 6, coolant + 4, coolant),
				facts('Intake Air Temp', '', air - 9, air + 9, air)
			]);
		const units = (list: ReturnType<typeof many>) => list.map((r) => r!.unit.id);
		expect(units(both(68, 88))).toEqual(['°C', '°C']);
		expect(units(both(52, 190))).toEqual(['°F', '°F']);
		// 40 °C or 40 °F (4 °C) of air: what the coolant says goes for both.
		expect(units(both(40, 88))).toEqual(['°C', '°C']);
		expect(both(68, 88).every((r) => r!.undecided === null)).toBe(true);
		// What no engine survives in one scale is in the other, beside whatever.
		expect(units(both(25, 190))[0]).toBe('°F');
	});
	it('a written scale speaks for the columns that have none', () => {
		const list = many([facts('Oil Temp', '°F', 150, 230, 200), facts('Intake Air Temp', '', 40, 60, 50)]);
		expect(list[1]!.unit.id).toBe('°F');
	});
});

describe('headers that are canonical ids', () => {
	const many = (list: ColumnFacts[]) => recogniseColumns(list, context);
	const log = [facts('rpm', '', 700, 6500), facts('iat', '', 20, 96, 68), facts('ect', '', 80, 92, 88)];
	it('mean canonical units, whatever the numbers look like', () => {
		const found = many([
			...log,
			facts('speed', '', 0, 90),
			facts('oilPressure', '', 20, 80, 60),
			facts('maf', '', 1, 40)
		]);
		expect(found.map((r) => r!.unit.id)).toEqual(['rpm', '°C', '°C', 'km/h', 'kPa', 'g/s']);
		expect(found.every((r) => r!.undecided === null)).toBe(true);
	});
	it('say so only when all of them are, in their exact case, and where the values can be that', () => {
		const asked = many([...log, facts('Vehicle Speed', '', 0, 90)]);
		expect(asked[3]!.note).toContain('like the rest of the file');
		expect(many([log[0]!, facts('ect', '', 150, 200, 190)])[1]!.unit.id).toBe('°F');
		expect(many([...log, facts('map', 'psi', 2, 29, 9)])[3]!.unit.id).toBe('psi');
	});
});
