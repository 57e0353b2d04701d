import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith } from '../testing/hand-made.ts';
import { prepare } from './prepare.ts';
import { pullCurves } from './segments/pull-curves.ts';
import { judgeTyped, typedFrom, typedPower } from './typed-reading.ts';

const pulls = pullCurves(
	prepare(handMade(30, 20, { ...pullShapes(), spark: () => 14 }), {
		vehicle: vehicleWith(),
		calibrations: []
	})
);
const mixture = (text: string, unit = 'AFR') => typedFrom('mixture', 'film of the gauge', unit, text);

describe('typed lines', () => {
	it('take speed and value however they are parted, with the coarseness of their last digit', () => {
		expect(mixture('4000 11.8\n3000: 12\n5000;11,76').points).toEqual([
			{ rpm: 3000, value: 12, half: 0.5 },
			{ rpm: 4000, value: 11.8, half: 0.05 },
			{ rpm: 5000, value: 11.76, half: 0.005 }
		]);
	});
	it.each([
		['', 'type what was read'],
		['3000', 'line 1: write engine speed and value'],
		['3000 11.8\nfast 12', 'line 2: write engine speed and value'],
		['3000 118', 'line 1: 118 AFR is none'],
		['90000 12', 'line 1: 90000 is no engine speed']
	])('%j is refused', (text, says) => {
		expect(() => mixture(text)).toThrow(says);
	});
	it('refuses a unit that the kind has not', () => {
		expect(() => mixture('3000 0.8', 'hp')).toThrow('mixture is written in AFR or λ');
		expect(() => typedFrom('smell', 'film', '', '3000 1')).toThrow('say what was read');
		expect(() => typedFrom('mixture', 'x', 'AFR', '3000 12')).toThrow('say where it was read');
	});
});

describe('a typed mixture against the log', () => {
	// The log ran λ 0.80 in its pull: 11.76 on a gauge of 14.7.
	it('agrees within its last digit and what a film carries', () => {
		const a = judgeTyped(mixture('3000 11.8\n5000 11.7'), pulls, 14.7);
		expect(a.state).toBe('agrees');
		expect(a.rows[0]!.logged).toBeCloseTo(0.8, 3);
	});
	it('differs where one of the two must be wrong, and says which way', () => {
		const a = judgeTyped(mixture('3000 11.8\n5000 12.7'), pulls, 14.7);
		expect(a.state).toBe('differs');
		expect(a.words).toMatch(/Reads 8.0 % leaner than the log at 5000 rpm \(1 of 2 speeds differ\)/);
	});
	it('a coarse reading carries less: whole numbers hide 4 %', () => {
		// 12 ± 0.5 against 11.76 and 12.3: ± 3 % and ± 4.3 %.
		expect(judgeTyped(mixture('5000 12.5'), pulls, 14.7).state).toBe('differs');
		expect(judgeTyped(mixture('5000 12'), pulls, 14.7).state).toBe('agrees');
	});
	it('says nothing of speeds that were not driven', () => {
		const a = judgeTyped(mixture('1500 14.7'), pulls, 14.7);
		expect(a).toMatchObject({ state: 'shown', rows: [{ logged: null, off: null }] });
	});
});

describe('other readings', () => {
	it('a timing light finds an offset of the trigger', () => {
		const light = (text: string) => judgeTyped(typedFrom('timing', 'timing light', '°', text), pulls, 14.7);
		expect(light('3000 14').state).toBe('agrees');
		expect(light('3000 11').words).toMatch(/−3.0° against the log at 3000 rpm/);
	});
	it('maxima since clearing are no witness', () => {
		const m = judgeTyped(typedFrom('maxima', 'dash', '', 'boost 215 kPa\nrpm 7100'), pulls, 14.7);
		expect(m.state).toBe('shown');
		expect(m.words).toContain('no witness');
	});
});

it('power and torque of a dyno go on in kW and Nm', () => {
	const typed = [
		typedFrom('power', 'dyno sheet', 'hp', '4000 200'),
		typedFrom('torque', 'dyno sheet', 'lb-ft', '4000 100'),
		typedFrom('mixture', 'gauge', 'AFR', '4000 12.5')
	];
	const [document] = typedPower(typed);
	expect(document!.readings.map((r) => r.quantity)).toEqual(['powerKw', 'torqueNm']);
	// 1 hp is 550 ft·lbf/s: 0.745 699 87 kW; 1 lbf·ft is 1.355 817 9 N·m (NIST SP 811).
	expect(document!.readings[0]!.value).toBeCloseTo(149.14, 2);
	expect(document!.readings[1]!.value).toBeCloseTo(135.58, 2);
	expect(typedPower([typed[2]!])).toEqual([]);
});
