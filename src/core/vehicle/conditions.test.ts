/** The day and the seats of the sensors belong to a log. */
import { describe, expect, it } from 'vitest';
import { parseCalibration } from '../calibration/document.ts';
import { prepare } from '../evidence/prepare.ts';
import { readLog } from '../logfile/read.ts';
import { propose } from '../revising/revise.ts';
import { screenPrepared } from '../screening/screen.ts';
import { baseCalibration } from '../simulator/base-calibration.ts';
import { standardDrive } from '../simulator/drive.ts';
import { logText } from '../simulator/log-text.ts';
import { simulate } from '../simulator/simulate.ts';
import { median } from '../stats/stats.ts';
import { vehicleWith } from '../testing/hand-made.ts';
import { parseConditions, statedPressureKpa, vehicleOn, type Conditions } from './conditions.ts';

const said = (more: object): Conditions => parseConditions({ schema: 'tanto.conditions/1', ...more });
const vee = vehicleWith(
	{
		layout: 'v',
		cylinders: 6,
		banks: [
			[1, 3, 5],
			[2, 4, 6]
		],
		displacementL: 3,
		aspiration: 'turbo'
	},
	{ sensors: { lambda: [{ channel: 'lambda.b1', kind: 'independent', site: 'bank1' }] } }
);

describe('what was said of the day', () => {
	it('is the pressure at the place, or a weather report’s at the height (ISO 2533: 954.6 hPa at 500 m)', () => {
		expect(statedPressureKpa(said({}))).toBeNull();
		expect(statedPressureKpa(said({ pressureHpa: 930, seaLevelHpa: 1020, altitudeM: 500 }))).toBe(93);
		expect(statedPressureKpa(said({ altitudeM: 500 }))!).toBeCloseTo(95.46, 1);
		expect(statedPressureKpa(said({ seaLevelHpa: 1013.25 }))!).toBeCloseTo(101.325, 6);
	});
	it('stands in the vehicle of that log, and leaves the vehicle as it is', () => {
		const then = vehicleOn(vee, said({ pressureHpa: 900, ethanolPct: 30 }));
		expect(then.baselines?.ambientPressureKpa).toBe(90);
		expect(then.fuel?.ethanolPct).toBe(30);
		expect(vee.baselines?.ambientPressureKpa).toBeUndefined();
		expect(vehicleOn(vee, null)).toBe(vee);
	});
	it.each<[object, string]>([
		[{ ambientC: 200 }, 'ambientC'],
		[{ sites: { 'lambda.b1': 'the other one' } }, 'bank1, bank2, collector'],
		[{ sites: { rpm: 'bank1' } }, 'sites.rpm']
	])('%j is refused, naming what is wrong', (more, says) => {
		expect(() => said(more)).toThrow(says);
	});
	it('a seat that the engine doesn’t have is refused', () => {
		expect(() => vehicleOn(vehicleWith(), said({ sites: { 'lambda.b1': 'bank2' } }))).toThrow('one bank');
		expect(() => vehicleOn(vee, said({ sites: { 'lambda.ref': 'cyl9' } }))).toThrow('6 cylinders');
	});
});

describe('a sensor that was moved', () => {
	const calibration = parseCalibration(
		baseCalibration({ vehicle: vee, fuelModel: 'speed-density', name: 'base' })
	);
	/** The car with its one sensor in a bank; bank 2 gets too little fuel, bank 1 a little too much. */
	const log = (bank: 1 | 2, seed: number) => {
		const sim = simulate({
			vehicle: vee,
			calibration,
			drive: standardDrive(5, vee.engine.revLimitRpm),
			faults: { bankFlow: [1.06, 0.94] },
			seed,
			rateHz: 20
		});
		// One sensor, one loop: both follow the gas that it sits in.
		for (const id of ['lambda', 'stft', 'ltft', 'pw']) {
			const seen = sim.channels.get(`${id}.b${bank}`);
			if (seen) sim.channels.set(`${id}.b1`, seen);
			sim.channels.delete(`${id}.b2`);
		}
		sim.channels.delete('lambda.ref');
		return readLog([new TextEncoder().encode(logText(sim))], { gaugeStoich: 14.7, baroKpa: 101.325 });
	};
	const evidence = (bank: 1 | 2, seed: number) => {
		const vehicle = vehicleOn(vee, bank === 2 ? said({ sites: { 'lambda.b1': 'bank2' } }) : null);
		const input = prepare(log(bank, seed), { vehicle, calibrations: [calibration] });
		return { input, findings: screenPrepared(input).findings };
	};
	const [first, moved] = [evidence(1, 5), evidence(2, 6)];

	it('is screened as the bank in which it sat: the other one is the bank that isn’t seen', () => {
		const unseen = (e: typeof first) => e.findings.find((f) => f.code === 'bank.unseen')?.bank;
		expect(unseen(first)).toBe(2);
		expect(unseen(moved)).toBe(1);
		const wants = ({ input }: typeof first, bank: number) =>
			input.required.banks[bank] && median(input.required.banks[bank].filter((v) => v === v));
		expect(wants(first, 0)!).toBeCloseTo(1 / 1.06, 1);
		expect(wants(first, 1)).toBeNull();
		// The loop that the only sensor steers counts where it sits.
		expect(wants(moved, 0)).toBeNull();
		expect(wants(moved, 1)!).toBeCloseTo(1 / 0.94, 1);
	});
	it('is never averaged with the log before: what the leaner bank wants goes in, nothing comes out', () => {
		const cells = (list: (typeof first)[]) =>
			propose(list).changes.flatMap((c) => (c.item === 'fuel.table' ? c.cells : []));
		const alone = cells([moved]).filter((c) => c.to > c.from);
		expect(alone.length).toBeGreaterThan(10);
		for (const order of [
			[first, moved],
			[moved, first]
		]) {
			const both = cells(order);
			expect(both.filter((c) => c.to < c.from && c.y > 75)).toEqual([]);
			const added = (c: { x: number; y: number }) => both.find((b) => b.x === c.x && b.y === c.y);
			for (const c of alone) {
				const beside = added(c);
				if (!beside || c.basis !== 'measured') continue;
				// As much as by itself; an average of both would have been about nothing.
				expect(beside.to - beside.from).toBeGreaterThan(0.6 * (c.to - c.from));
			}
			expect(both.filter((c) => c.to > c.from).length).toBeGreaterThan(0.6 * alone.length);
		}
	});
});

describe('the air outside', () => {
	const pulls = (said: number | null) => {
		const input = prepare(
			readLog(
				[
					new TextEncoder().encode(
						logText(
							simulate({
								vehicle: vee,
								calibration: parseCalibration(
									baseCalibration({ vehicle: vee, fuelModel: 'speed-density', name: 'base' })
								),
								drive: standardDrive(5, 7000),
								faults: {},
								seed: 3,
								rateHz: 20
							})
						).replace('Ambient Temp', 'Something else')
					)
				],
				{ gaugeStoich: 14.7, baroKpa: 101.325 }
			),
			{ vehicle: vee, ambientC: said }
		);
		return screenPrepared(input).checks.find((c) => c.code === 'log.conditions')!;
	};
	it('is what was stated; of a log that began warm nothing else tells', () => {
		expect(pulls(null)).toMatchObject({ outcome: 'not-checked', missing: 'ambientTemp' });
		expect(pulls(18).outcome).toBe('pass');
		expect(pulls(-10).outcome).toBe('found');
	});
});
