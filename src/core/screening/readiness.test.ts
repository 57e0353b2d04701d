/**
 * Every check of readiness, sensors, mixture, cylinders, supply, boost and drivetrain on hand-made logs: clear-cut, just under, just
 * over, missing data, and look-alikes. Limits are the defaults of the profile.
 */
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import {
	air,
	at,
	findingOf,
	handMade,
	inPull,
	perCylinder,
	pulled,
	outcomeOf,
	pullShapes,
	reportOf,
	twoBanks,
	v6,
	vehicleWith,
	type Shape
} from '../testing/hand-made.ts';
import type { Vehicle } from '../vehicle/document.ts';

/** A minute of warm idle after the pull. */
const idling: Record<string, Shape> = {
	rpm: (t) => (t < 30 ? pullShapes()['rpm']!(t) : 850),
	map: (t) => (t < 30 ? pullShapes()['map']!(t) : 38),
	tps: (t) => (t < 30 ? pullShapes()['tps']!(t) : 0),
	speed: (t) => (t < 30 ? 60 : 0)
};

interface Case {
	what: string;
	shapes: Record<string, Shape>;
	vehicle?: Vehicle;
	calibration?: object[];
	seconds?: number;
	/** Severity, `pass` or `not-checked`. */
	is: string;
}

function calibrationOf(items: object[]): Calibration {
	return parseCalibration({ schema: 'tanto.calibration/1', name: 'c', fuelModel: 'speed-density', items });
}

function answer(code: string, c: Case): string {
	const shapes: Record<string, Shape> = { ...pullShapes(), ...c.shapes };
	for (const [id, shape] of Object.entries(shapes)) if (shape === GONE) delete shapes[id];
	const report = reportOf(
		handMade(c.seconds ?? 60, 20, shapes),
		c.vehicle ?? vehicleWith(),
		c.calibration ? [calibrationOf(c.calibration)] : []
	);
	const line = outcomeOf(report, code);
	if (line.outcome !== 'found') return line.outcome;
	return findingOf(report, code)!.severity;
}
/** Takes a channel out. */
const GONE: Shape = () => Number.NaN;

const map = (id: string, x: number[], y: number[], value: number) => ({
	id,
	kind: 'map',
	x: { channel: 'rpm', unit: 'rpm', points: x },
	y: { channel: 'map', unit: 'kPa', points: y },
	values: y.map(() => x.map(() => value))
});

const idle = (ect: number) => ({ ...idling, ect: at(ect) });
/** A mixture in the pull that moves a little, as measured ones do: one that stands still at its lowest is a sensor at its end. */
const rippled =
	(inside: number): Shape =>
	(t) =>
		inPull(t) ? inside * (1 + 0.003 * Math.sin(t * 9)) : 1;

const CASES: Record<string, Case[]> = {
	'temp.coolant': [
		{ what: 'no channel', shapes: { ect: GONE }, is: 'not-checked' },
		{ what: 'warm idle inside the band', shapes: idle(99), is: 'pass' },
		{ what: 'warm idle above the band', shapes: idle(101), is: 'watch' },
		{
			what: "above the default band, inside the vehicle's own",
			shapes: idle(103),
			vehicle: vehicleWith({}, { baselines: { coolantIdleC: [85, 106] } }),
			is: 'pass'
		},
		{ what: 'just under 110', shapes: { ect: (t) => (inPull(t) ? 109.5 : 90) }, is: 'pass' },
		{ what: '110', shapes: { ect: pulled(110, 90) }, is: 'fix' },
		{ what: '118', shapes: { ect: pulled(118, 90) }, is: 'stop' },
		{ what: 'one wild sample', shapes: { ect: (t) => (Math.round(t * 20) === 240 ? 140 : 90) }, is: 'pass' },
		{ what: 'cold after eleven minutes', shapes: { ect: at(72) }, seconds: 680, is: 'watch' },
		{ what: 'cold at first', shapes: { ect: at(60) }, seconds: 120, is: 'pass' }
	],
	'temp.intake': [
		{ what: 'no channel', shapes: {}, is: 'not-checked' },
		{ what: 'just under', shapes: { iat: at(59.5) }, is: 'pass' },
		{ what: 'over 60', shapes: { iat: at(61) }, is: 'watch' },
		{ what: 'over 75', shapes: { iat: at(76) }, is: 'fix' },
		{ what: 'hot only while standing', shapes: { iat: (t) => (t < 5 ? 80 : 40) }, is: 'pass' },
		{
			what: 'rises by 26 in a pull',
			shapes: { iat: (t) => (inPull(t) ? 25 + ((t - 10) / 6) * 26.5 : 25) },
			is: 'watch'
		},
		{ what: 'never loaded', shapes: { iat: at(80), tps: at(10), map: at(40) }, is: 'not-checked' }
	],
	'temp.oil': [
		{ what: 'no channel', shapes: {}, is: 'not-checked' },
		{ what: '129', shapes: { oilTemp: at(129) }, is: 'pass' },
		{ what: '131', shapes: { oilTemp: pulled(131, 100) }, is: 'fix' }
	],
	'temp.trans': [
		{ what: '114', shapes: { transTemp: at(114) }, is: 'pass' },
		{ what: '116', shapes: { transTemp: at(116) }, is: 'fix' }
	],
	'temp.ecu': [
		{ what: '75 is still in the safe zone (common practice)', shapes: { ecuTemp: at(75) }, is: 'pass' },
		{ what: '86', shapes: { ecuTemp: at(86) }, is: 'watch' }
	],
	'temp.exhaust': [
		{ what: 'no channel', shapes: {}, is: 'not-checked' },
		{ what: '895', shapes: { 'egt.cyl1': at(700), 'egt.cyl2': pulled(895, 600) }, is: 'pass' },
		{ what: '905', shapes: { 'egt.cyl2': pulled(905, 600) }, is: 'watch' },
		{ what: '955', shapes: { 'egt.cyl2': pulled(955, 600) }, is: 'fix' },
		{ what: '1005', shapes: { 'egt.cyl2': pulled(1005, 600) }, is: 'stop' }
	],
	'oil.pressure': [
		{ what: 'no channel', shapes: {}, is: 'not-checked' },
		{
			what: '75 kPa per 1000 rpm',
			shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * 0.075 },
			is: 'pass'
		},
		{
			what: '65 kPa per 1000 rpm',
			shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * 0.065 },
			is: 'stop'
		},
		{
			what: 'low only at part load',
			shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * (inPull(t) ? 0.08 : 0.03) },
			is: 'pass'
		},
		{
			what: 'low while cold',
			shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * 0.05, ect: at(40) },
			is: 'not-checked'
		}
	],
	'volt.supply': [
		{ what: 'no channel', shapes: {}, is: 'not-checked' },
		{ what: '14.2 is healthy (common practice)', shapes: { vbat: at(14.2) }, is: 'pass' },
		{ what: '12.6', shapes: { vbat: at(12.6) }, is: 'pass' },
		{ what: '12.4', shapes: { vbat: (t) => (t > 20 && t < 22 ? 12.4 : 14) }, is: 'watch' },
		{ what: '11.9', shapes: { vbat: (t) => (t > 20 && t < 22 ? 11.9 : 14) }, is: 'fix' },
		{ what: 'a dip of half a second', shapes: { vbat: (t) => (t > 20 && t < 20.5 ? 11 : 14) }, is: 'pass' },
		{ what: '15.1', shapes: { vbat: at(15.1) }, is: 'watch' },
		{ what: '15.6', shapes: { vbat: at(15.6) }, is: 'fix' },
		{
			what: 'falls by 1 V in a pull',
			shapes: { vbat: (t) => (inPull(t) ? 14.2 - (t - 10) / 5.5 : 14.2) },
			is: 'watch'
		},
		{
			what: 'low only with the engine standing',
			shapes: { vbat: (t) => (t < 5 ? 11.5 : 14), rpm: (t) => (t < 5 ? 0 : pullShapes()['rpm']!(t)) },
			is: 'pass'
		}
	],
	'idle.vacuum': [
		{ what: 'no baseline', shapes: idling, is: 'not-checked' },
		{
			what: '9 kPa more',
			shapes: idling,
			vehicle: vehicleWith({}, { baselines: { idleMapKpa: 29 } }),
			is: 'pass'
		},
		{
			what: '11 kPa more',
			shapes: idling,
			vehicle: vehicleWith({}, { baselines: { idleMapKpa: 27 } }),
			is: 'watch'
		},
		{
			what: '15 inHg of vacuum where it always was, 9 today: 20 kPa (common practice)',
			shapes: { ...idling, map: (t) => (t < 30 ? 45 : 100 - 9 * 3.386389) },
			vehicle: vehicleWith({}, { baselines: { idleMapKpa: 100 - 15 * 3.386389 } }),
			is: 'fix'
		},
		{
			what: 'no idle',
			shapes: {},
			vehicle: vehicleWith({}, { baselines: { idleMapKpa: 30 } }),
			is: 'not-checked'
		}
	],
	'trim.level': [
		{ what: 'no trims', shapes: {}, is: 'not-checked' },
		{ what: '4.9 %', shapes: { ...idling, 'stft.b1': at(2), 'ltft.b1': at(2.9) }, is: 'pass' },
		{ what: '−5.5 %', shapes: { ...idling, 'stft.b1': at(-2), 'ltft.b1': at(-3.5) }, is: 'watch' },
		{ what: '10.5 %', shapes: { ...idling, 'ltft.b1': at(10.5) }, is: 'fix' },
		{ what: 'large only while loaded', shapes: { ...idling, 'ltft.b1': pulled(12, 0) }, is: 'pass' }
	],
	'controller.state': [
		{ what: 'nothing logged', shapes: {}, is: 'not-checked' },
		{ what: 'sync errors that stand', shapes: { syncErrors: at(3) }, is: 'pass' },
		{ what: 'sync errors rise under load', shapes: { syncErrors: (t) => (t < 13 ? 0 : 1) }, is: 'stop' },
		{ what: 'sync errors rise at cruise', shapes: { syncErrors: (t) => (t < 20 ? 0 : 1) }, is: 'watch' },
		{ what: 'codes stored', shapes: { faultCodes: at(2) }, is: 'fix' },
		{
			what: 'intervention in a pull',
			shapes: { torqueLimit: (t) => (t > 12 && t < 13 ? 1 : 0) },
			is: 'watch'
		},
		{ what: 'intervention elsewhere', shapes: { torqueLimit: (t) => (t > 22 && t < 23 ? 1 : 0) }, is: 'pass' }
	],
	'sensor.map': [
		{ what: 'engine never stands', shapes: {}, is: 'not-checked' },
		...(
			[
				[102.5, 'pass'],
				[103.5, 'watch'],
				[106.5, 'fix']
			] as const
		).map(([kpa, is]): Case => ({
			what: `${kpa} against 100 of its own barometer`,
			shapes: {
				rpm: (t) => (t < 2 ? 0 : pullShapes()['rpm']!(t)),
				map: (t) => (t < 2 ? kpa : pullShapes()['map']!(t))
			},
			vehicle: vehicleWith({}, { sensors: { baro: 'own' } }),
			is
		})),
		{
			what: 'only standard pressure: 95 is altitude, not a fault',
			shapes: {
				baro: GONE,
				rpm: (t) => (t < 2 ? 0 : pullShapes()['rpm']!(t)),
				map: (t) => (t < 2 ? 95 : 45)
			},
			is: 'pass'
		},
		{
			what: 'only standard pressure: 92',
			shapes: {
				baro: GONE,
				rpm: (t) => (t < 2 ? 0 : pullShapes()['rpm']!(t)),
				map: (t) => (t < 2 ? 92 : 45)
			},
			is: 'watch'
		}
	],
	'sensor.ethanol': [
		{ what: 'not logged', shapes: {}, is: 'not-checked' },
		{ what: 'not declared', shapes: { ethanol: at(60) }, is: 'not-checked' },
		{
			what: '9 points',
			shapes: { ethanol: at(76) },
			vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
			is: 'pass'
		},
		{
			what: '65 % where 85 % was promised (common practice)',
			shapes: { ethanol: at(65) },
			vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
			is: 'watch'
		},
		{
			what: '21 points',
			shapes: { ethanol: at(64) },
			vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
			is: 'fix'
		},
		{
			what: 'changes by 8 within the log',
			shapes: { ethanol: (t) => 80 + (t / 60) * 8 },
			vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
			is: 'watch'
		}
	],
	'fuel.target': [
		{ what: 'no target', shapes: { 'lambda.target': GONE }, is: 'not-checked' },
		{
			what: '0.895 boosted',
			shapes: { 'lambda.target': pulled(0.895, 1), 'lambda.b1': pulled(0.895, 1) },
			is: 'pass'
		},
		{
			what: '0.92 boosted, port',
			shapes: { 'lambda.target': pulled(0.92, 1), 'lambda.b1': pulled(0.92, 1) },
			is: 'fix'
		},
		{
			what: '0.92 boosted, direct',
			shapes: { 'lambda.target': pulled(0.92, 1), 'lambda.b1': pulled(0.92, 1) },
			vehicle: vehicleWith({ injection: 'direct' }),
			is: 'watch'
		},
		{ what: 'no boost', shapes: { map: pulled(98, 45), 'lambda.target': at(0.95) }, is: 'not-checked' },
		{ what: 'naturally aspirated', shapes: {}, vehicle: vehicleWith({ aspiration: 'na' }), is: 'pass' }
	],
	'fuel.rich': [
		{ what: 'no lambda', shapes: { 'lambda.b1': GONE }, is: 'not-checked' },
		{ what: '−4 %', shapes: { 'lambda.b1': pulled(0.8 * 0.96, 1) }, is: 'pass' },
		{ what: '−6 %', shapes: { 'lambda.b1': pulled(0.8 * 0.94, 1) }, is: 'watch' },
		{ what: '−11 %', shapes: { 'lambda.b1': rippled(0.8 * 0.89) }, is: 'fix' },
		{
			what: 'λ 0.69 on target',
			shapes: { 'lambda.b1': rippled(0.69), 'lambda.target': pulled(0.69, 1) },
			is: 'fix'
		},
		{
			what: 'λ 0.66 with 85 % ethanol',
			shapes: { 'lambda.b1': pulled(0.66, 1), 'lambda.target': pulled(0.66, 1) },
			vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
			is: 'pass'
		},
		{
			what: 'rich only for a tenth of a second',
			shapes: { 'lambda.b1': (t) => (t > 13 && t < 13.1 ? 0.7 : inPull(t) ? 0.8 : 1) },
			is: 'pass'
		}
	],
	'trim.limit': [
		{ what: 'no trim', shapes: {}, is: 'not-checked' },
		{ what: '7.5 % under load', shapes: { 'stft.b1': pulled(7.5, 0) }, is: 'pass' },
		{ what: '8.5 % under load', shapes: { 'stft.b1': pulled(8.5, 0) }, is: 'fix' },
		{
			what: 'flat at its end at cruise',
			shapes: { 'stft.b1': (t) => (t > 20 && t < 25 ? 20 : Math.sin(t) * 3) },
			is: 'fix'
		},
		{ what: 'a small correction that stands still', shapes: { 'stft.b1': at(1.6) }, is: 'pass' }
	],
	'air.model': [
		{ what: 'no model', shapes: { maf: pulled(300, 20) }, is: 'not-checked' },
		{ what: '4 % apart', shapes: { maf: air(300), airflowModel: air(300, 312 / 300) }, is: 'pass' },
		{ what: '6 % apart', shapes: { maf: air(300), airflowModel: air(300, 318 / 300) }, is: 'watch' },
		{
			what: '510 against 410 g/s (common practice)',
			shapes: { maf: air(410), airflowModel: air(410, 510 / 410) },
			is: 'fix'
		}
	],
	'table.range': [
		{ what: 'no calibration', shapes: {}, is: 'not-checked' },
		{ what: 'inside', shapes: {}, calibration: [map('fuel.table', [1000, 7000], [20, 180], 80)], is: 'pass' },
		{
			what: 'ends at 150 kPa',
			shapes: {},
			calibration: [map('fuel.table', [1000, 7000], [20, 150], 80)],
			is: 'fix'
		},
		{
			what: 'beyond it only for a tenth of a second',
			shapes: { map: (t) => (t > 13 && t < 13.1 ? 190 : inPull(t) ? 170 : 45) },
			calibration: [map('fuel.table', [1000, 7000], [20, 180], 80)],
			is: 'pass'
		}
	],
	misfire: [
		{ what: 'not counted', shapes: {}, is: 'not-checked' },
		{ what: 'counts that stand', shapes: { 'misfire.cyl1': at(5) }, is: 'pass' },
		{ what: 'rises at cruise', shapes: { 'misfire.cyl1': (t) => (t < 25 ? 0 : 4) }, is: 'pass' },
		{ what: 'three under load', shapes: { 'misfire.cyl1': (t) => (t < 12 ? 0 : t < 13 ? 1 : 3) }, is: 'fix' },
		{
			what: 'eleven in one pull',
			shapes: { 'misfire.cyl1': (t) => (t < 12 ? 0 : t < 13 ? 5 : 11) },
			is: 'stop'
		}
	],
	'bank.unseen': [
		{ what: 'one bank', shapes: {}, is: 'pass' },
		{ what: 'two banks, one sensor', shapes: {}, vehicle: twoBanks(), is: 'watch' },
		{
			what: 'two banks, two sensors',
			shapes: { 'lambda.b2': pullShapes()['lambda.b1']! },
			vehicle: twoBanks(),
			is: 'pass'
		},
		{
			what: 'two banks, one sensor in the common pipe',
			shapes: { 'lambda.b1': GONE, 'lambda.ref': pullShapes()['lambda.b1']! },
			vehicle: twoBanks(),
			is: 'watch'
		},
		{ what: 'no lambda at all', shapes: { 'lambda.b1': GONE }, vehicle: twoBanks(), is: 'not-checked' }
	],
	'cyl.lambda': [
		{ what: 'not by cylinder', shapes: {}, is: 'not-checked' },
		...(
			[
				[1.025, 'pass'],
				[1.04, 'watch'],
				[1.06, 'fix'],
				[1.09, 'stop'],
				[0.96, 'watch'],
				[0.9, 'watch']
			] as const
		).map(([off, is]): Case => ({
			what: `cylinder 4 at × ${off}`,
			shapes: perCylinder('lambda', (c) => pulled(0.8 * (c === 4 ? off : 1), 1)),
			vehicle: v6,
			is
		})),
		{
			what: 'all of one bank lean is no cylinder',
			shapes: perCylinder('lambda', (c) => pulled(0.8 * (c % 2 ? 1.1 : 1), 1)),
			vehicle: vehicleWith({
				layout: 'v',
				cylinders: 6,
				banks: [
					[1, 3, 5],
					[2, 4, 6]
				]
			}),
			is: 'pass'
		}
	],
	'cyl.knock': [
		{ what: 'not by cylinder', shapes: {}, is: 'not-checked' },
		{
			what: 'cylinder 2 at 1.4°',
			shapes: perCylinder('knockRetard', (c) => pulled(c === 2 ? 1.4 : 0, 0)),
			is: 'pass'
		},
		{
			what: 'cylinder 2 at 1.6°',
			shapes: perCylinder('knockRetard', (c) => pulled(c === 2 ? 1.6 : 0, 0)),
			is: 'watch'
		},
		{
			what: 'one pulls 3 while all others show none (common practice)',
			shapes: perCylinder('knockRetard', (c) => pulled(c === 2 ? 3 : 0, 0)),
			is: 'fix'
		},
		{ what: 'all of them', shapes: perCylinder('knockRetard', () => pulled(3, 0)), is: 'pass' }
	],
	'cyl.egt': [
		{ what: 'no channels', shapes: {}, is: 'not-checked' },
		{ what: '55 apart at cruise', shapes: perCylinder('egt', (c) => at(c === 3 ? 755 : 700)), is: 'pass' },
		{ what: '65 apart at cruise', shapes: perCylinder('egt', (c) => at(c === 3 ? 765 : 700)), is: 'watch' },
		{
			what: 'apart only in the pull',
			shapes: perCylinder('egt', (c) => pulled(c === 3 ? 900 : 700, 700)),
			is: 'pass'
		}
	],
	'cyl.trim': [
		{ what: 'no calibration', shapes: {}, is: 'not-checked' },
		...(
			[
				[2.9, 'pass'],
				[3, 'watch'],
				[-5, 'fix']
			] as const
		).map(([points, is]): Case => ({
			what: `one at ${points}`,
			shapes: {},
			calibration: [
				{
					id: 'fuel.cylTrim',
					kind: 'curve',
					unit: '%',
					x: { channel: 'cylinder', points: [1, 2, 3, 4] },
					values: [0, points, 0, 0]
				}
			],
			is
		}))
	],
	'knock.missed': [
		{ what: 'no monitor', shapes: {}, is: 'not-checked' },
		{ what: 'quiet', shapes: { knockMonitor: at(20) }, is: 'pass' },
		{
			what: 'heard for 0.3 s and nothing pulled',
			shapes: { knockMonitor: (t) => (t > 13 && t < 13.3 ? 80 : 10) },
			is: 'stop'
		},
		{
			what: 'heard and pulled',
			shapes: {
				knockMonitor: (t) => (t > 13 && t < 13.3 ? 80 : 10),
				knockRetard: (t) => (t > 13 && t < 14 ? 2 : 0)
			},
			is: 'pass'
		},
		{
			what: 'heard at cruise only',
			shapes: { knockMonitor: (t) => (t > 23 && t < 24 ? 80 : 10) },
			is: 'pass'
		}
	],
	'knock.monitor': [
		{ what: 'no monitor', shapes: {}, is: 'not-checked' },
		{
			what: 'retard and a silent monitor',
			shapes: { knockMonitor: at(10), knockRetard: (t) => (t > 13 && t < 13.2 ? 2 : 0) },
			is: 'note'
		},
		{
			what: 'both together',
			shapes: {
				knockMonitor: (t) => (t > 13 && t < 13.2 ? 80 : 10),
				knockRetard: (t) => (t > 13 && t < 13.2 ? 2 : 0)
			},
			is: 'pass'
		}
	],
	'knock.disabled': [
		{ what: 'no calibration', shapes: {}, is: 'not-checked' },
		{
			what: 'on',
			shapes: {},
			calibration: [{ id: 'knock.enabled', kind: 'setting', value: true }],
			is: 'pass'
		},
		{
			what: 'off',
			shapes: {},
			calibration: [{ id: 'knock.enabled', kind: 'setting', value: false }],
			is: 'stop'
		},
		{
			what: 'sensitivity 50',
			shapes: {},
			calibration: [{ id: 'knock.sensitivity', kind: 'scalar', unit: '%', value: 50 }],
			is: 'pass'
		},
		{
			what: 'sensitivity 49',
			shapes: {},
			calibration: [{ id: 'knock.sensitivity', kind: 'scalar', unit: '%', value: 49 }],
			is: 'stop'
		}
	],
	'knock.timing': [
		{ what: 'no timing', shapes: {}, is: 'not-checked' },
		{ what: '8.5°', shapes: { spark: pulled(8.5, 30) }, is: 'pass' },
		{ what: '6 degrees at full throttle (common practice)', shapes: { spark: pulled(6, 30) }, is: 'note' },
		{
			what: '6 degrees and very rich',
			shapes: { spark: pulled(6, 30), 'lambda.b1': pulled(0.73, 1), 'lambda.target': pulled(0.73, 1) },
			is: 'watch'
		},
		{
			what: 'on ethanol',
			shapes: { spark: pulled(6, 30) },
			vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
			is: 'pass'
		}
	],
	'supply.pressure': [
		{ what: 'reference unknown', shapes: { fuelPressure: at(300) }, is: 'not-checked' },
		...(
			[
				[0.93, 'pass'],
				[0.91, 'watch'],
				[0.84, 'fix'],
				[0.74, 'stop']
			] as const
		).map(([share, is]): Case => ({
			what: `× ${share}, following the manifold`,
			shapes: { fuelPressure: (t) => (inPull(t) ? 300 * share + 70 : 245) },
			vehicle: vehicleWith({}, { injectors: { pressureReference: 'manifold', basePressureKpa: 300 } }),
			is
		})),
		{
			what: 'following the atmosphere, as it should',
			shapes: { fuelPressure: at(400) },
			vehicle: vehicleWith({}, { injectors: { pressureReference: 'atmosphere', basePressureKpa: 400 } }),
			is: 'pass'
		},
		{
			what: 'a rail at 90 % of its target',
			shapes: { railPressure: pulled(9000, 5000), railTarget: pulled(10000, 5000) },
			vehicle: vehicleWith({ injection: 'direct' }, { injectors: { pressureReference: 'controlled' } }),
			is: 'watch'
		}
	],
	'boost.under': [
		{ what: 'no set point', shapes: {}, is: 'not-checked' },
		{ what: '9 kPa short', shapes: { boostTarget: at(179) }, is: 'pass' },
		{ what: '15 kPa short', shapes: { boostTarget: at(185) }, is: 'watch' },
		{
			what: '12 psi where 16 to 17 is set: 31 kPa (common practice)',
			shapes: { map: pulled(100 + 12 * 6.894757, 45), boostTarget: at(100 + 16.5 * 6.894757) },
			is: 'fix'
		},
		{
			what: 'still spooling',
			shapes: { map: (t) => (inPull(t) ? Math.min(170, 110 + (t - 10) * 40) : 45), boostTarget: at(172) },
			is: 'pass'
		},
		{ what: 'naturally aspirated', shapes: {}, vehicle: vehicleWith({ aspiration: 'na' }), is: 'pass' }
	],
	'boost.over': [
		{ what: '6 kPa over', shapes: { boostTarget: at(164) }, is: 'pass' },
		{ what: '8 kPa over', shapes: { boostTarget: at(162) }, is: 'watch' },
		{ what: '15 kPa over', shapes: { boostTarget: at(155) }, is: 'fix' },
		{
			what: '26 kPa over for 0.15 s',
			shapes: { boostTarget: at(168), map: (t) => (t > 13 && t < 13.16 ? 194.5 : inPull(t) ? 170 : 45) },
			is: 'stop'
		},
		{
			what: '20 kPa over for 0.1 s',
			shapes: { boostTarget: at(168), map: (t) => (t > 13 && t < 13.1 ? 188 : inPull(t) ? 170 : 45) },
			is: 'pass'
		}
	],
	'throttle.closing': [
		{ what: 'no pedal', shapes: {}, is: 'not-checked' },
		{ what: 'open', shapes: { pedal: pulled(100, 18) }, is: 'pass' },
		{
			what: '79 % near 4940 rpm (common practice)',
			shapes: { pedal: pulled(100, 18), tps: (t) => (t > 13.4 && t < 14 ? 79 : inPull(t) ? 100 : 18) },
			is: 'watch'
		},
		{
			what: 'a throttle whose own fully open is 86 %',
			shapes: { pedal: pulled(100, 18), tps: pulled(86, 18) },
			vehicle: vehicleWith({}, { baselines: { fullThrottlePct: 86 } }),
			is: 'pass'
		},
		{ what: 'half a pedal', shapes: { pedal: pulled(60, 18), tps: pulled(50, 18) }, is: 'not-checked' }
	],
	'throttle.slow': [
		{
			what: 'opens in 0.3 s',
			shapes: { pedal: pulled(100, 18), tps: (t) => (t >= 10.3 && t < 16 ? 100 : 18) },
			is: 'pass'
		},
		{
			what: 'opens in 0.6 s',
			shapes: { pedal: pulled(100, 18), tps: (t) => (t >= 10.6 && t < 16 ? 100 : 18) },
			is: 'note'
		}
	],
	'rpm.limit': [
		{ what: 'not reached', shapes: {}, is: 'pass' },
		{ what: 'no pull', shapes: { tps: at(18), map: at(45) }, is: 'not-checked' }
	],
	traction: [
		{ what: 'no speed', shapes: {}, is: 'not-checked' },
		{ what: 'in its ratio', shapes: { gear: at(3), speed: (t) => pullShapes()['rpm']!(t) / 40 }, is: 'pass' },
		{
			what: '12 % faster for a second',
			shapes: { gear: at(3), speed: (t) => pullShapes()['rpm']!(t) / (t > 12 && t < 13 ? 44.8 : 40) },
			is: 'note'
		}
	],
	'cam.position': [
		{ what: 'no cam', shapes: {}, is: 'not-checked' },
		{ what: '4° off', shapes: { camIntake: pulled(16, 20), camIntakeTarget: at(20) }, is: 'pass' },
		{ what: '6° off', shapes: { camIntake: pulled(14, 20), camIntakeTarget: at(20) }, is: 'watch' }
	],
	'nitrous.timing': [
		{ what: 'no nitrous', shapes: {}, is: 'pass' },
		{ what: 'shot unknown', shapes: { nitrousDuty: pulled(100, 0) }, is: 'not-checked' },
		{
			what: '3.9° for 100 hp',
			shapes: { nitrousDuty: pulled(100, 0), sparkBase: pulled(20, 30), spark: pulled(16.1, 30) },
			vehicle: vehicleWith({}, { nitrous: { shotHp: 100, kind: 'dry' } }),
			is: 'fix'
		},
		{
			what: '9 on 200 for safety (common practice)',
			shapes: { nitrousDuty: pulled(100, 0), sparkBase: pulled(20, 30), spark: pulled(11, 30) },
			vehicle: vehicleWith({}, { nitrous: { shotHp: 200, kind: 'dry' } }),
			is: 'pass'
		}
	]
};

for (const [code, cases] of Object.entries(CASES))
	describe(code, () => {
		it.each(cases)('$what: $is', (c) => expect(answer(code, c)).toBe(c.is));
	});
