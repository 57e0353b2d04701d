import { describe, expect, it } from 'vitest';
import { candidatesByName, recogniseColumns, type ColumnFacts } from './recognise.ts';

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
