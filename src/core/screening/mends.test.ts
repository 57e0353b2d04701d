/** What went wrong once on logs from elsewhere: a test each, across the checks. */
import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { along } from '../calibration/along.ts';
import { compare } from '../calibration/compare.ts';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { classify } from '../calibration/risk.ts';
import { holdsOf, type HoldInput } from '../revising/holds.ts';
import { propose } from '../revising/revise.ts';
import { standardDrive } from '../simulator/drive.ts';
import { baseCalibration } from '../simulator/base-calibration.ts';
import { logText } from '../simulator/log-text.ts';
import { simulate } from '../simulator/simulate.ts';
import { readLog } from '../logfile/read.ts';
import {
	at,
	findingOf,
	handMade,
	inPull,
	outcomeOf,
	perCylinder,
	pulled,
	pullShapes,
	reportOf,
	twoBanks,
	vehicleWith,
	type Shape,
	calibrationWith
} from '../testing/hand-made.ts';
import { vehicleFrom } from '../vehicle/document.ts';
import { readContextOf } from '../vehicle/facts.ts';
import { screen, screenPrepared } from './screen.ts';
import { findingKey } from './types.ts';

const car = vehicleWith();
const made = (...items: object[]): Calibration => calibrationWith(items, { name: 'made' });
const table = (id: string, top: number, value = 15) => ({
	id,
	kind: 'map',
	unit: '°',
	decimals: 1,
	x: { channel: 'rpm', unit: 'rpm', points: [1000, 2000, 3000, 4000, 5000, 6000, 7000] },
	y: { channel: 'map', unit: 'kPa', points: [20, top] },
	values: [0, 1].map(() => [1000, 2000, 3000, 4000, 5000, 6000, 7000].map(() => value))
});

describe('table.range', () => {
	const severity = (top: number) =>
		findingOf(reportOf(handMade(40, 20, pullShapes()), car, [made(table('spark.table', top))]), 'table.range')
			?.severity;
	it('a few kPa beyond the end are a note, a twentieth of the span and more is to fix', () => {
		// The pull is at 170 kPa.
		expect([severity(175), severity(167), severity(160)]).toEqual([undefined, 'note', 'fix']);
	});
	it('a brush of 0.2 s is nothing', () => {
		const brush = handMade(40, 20, {
			...pullShapes(),
			map: (t) => (t > 13 && t < 13.2 ? 190 : pulled(150, 45)(t))
		});
		expect(findingOf(reportOf(brush, car, [made(table('spark.table', 160))]), 'table.range')).toBeUndefined();
	});
});

describe('log.sensor', () => {
	/** Driving that goes up and down through speed and load for a minute and a half. */
	const driving: Record<string, Shape> = {
		...pullShapes(50),
		rpm: (t) => (t >= 50 && t < 56 ? 2500 + ((t - 50) / 6) * 4000 : 2600 + 900 * Math.sin(t / 4)),
		map: (t) => (t >= 50 && t < 56 ? 170 : 60 + 25 * Math.sin(t / 5)),
		tps: (t) => (t >= 50 && t < 56 ? 100 : 22 + 8 * Math.sin(t / 5))
	};
	it.each([
		['all through the log', at(0.98)],
		['at a lean end, as a dead sensor shows', at(1.52)],
		['from a minute in', ((t) => (t < 60 ? 1 + 0.01 * Math.sin(t * 7) : 1.003)) as Shape]
	])('one lambda that stands still %s is found', (_, lambda) => {
		const r = reportOf(handMade(100, 20, { ...driving, 'lambda.b1': lambda }), car);
		expect(findingOf(r, 'log.sensor')?.channels).toContain('lambda.b1');
	});
});

describe('tails that keep their severity', () => {
	it('closed loop at +12 % under load stays to fix beside a lean mixture', () => {
		const r = reportOf(
			handMade(40, 20, { ...pullShapes(), 'lambda.b1': pulled(0.8 * 1.09, 1), 'stft.b1': pulled(12, 1) }),
			car
		);
		expect(findingOf(r, 'fuel.lean')?.severity).toBe('stop');
		expect(findingOf(r, 'trim.limit')?.severity).toBe('fix');
	});
});

describe('knock', () => {
	it('of cylinders is seen beside a total that is their average', () => {
		const r = reportOf(
			handMade(40, 20, {
				...pullShapes(),
				knockRetard: (t) => (t > 12 && t < 15 ? 0.8 : 0),
				...perCylinder('knockRetard', (c) => (t) => (c <= 3 && t > 12 && t < 15 ? (t - 12) * 1.6 : 0))
			}),
			vehicleWith({ cylinders: 6 })
		);
		const worst = r.findings.find((f) => f.code.startsWith('knock.') && f.severity !== 'note')!;
		expect(worst.value).toBeGreaterThan(4);
	});
	it('one cylinder that knocks under the stop of its own vehicle steps back, at that stop it stays', () => {
		const r = (stop: number) =>
			reportOf(
				handMade(60, 20, {
					...pullShapes(),
					knockRetard: (t) => (t > 13 && t < 14 ? 5 : 0),
					...perCylinder('knockRetard', (c) => (t) => (c === 2 && t > 13 && t < 14 ? 5 : 0))
				}),
				vehicleWith({ cylinders: 6 }, { limits: { knockStopDeg: stop } })
			).findings.filter((f) => f.code.startsWith('knock.'));
		expect(r(6).map((f) => f.severity)).toEqual(['note']);
		expect(r(4).map((f) => f.severity)).toEqual(['stop']);
	});
	it('comes out where each step rises, each with its own level', () => {
		// 1° rises at 3000 rpm, 2° more at 5000 rpm; then it decays.
		const rpmAt = (t: number) => 2500 + ((t - 10) / 6) * 4000;
		const staircase: Shape = (t) => (!inPull(t) || rpmAt(t) < 3000 ? 0 : rpmAt(t) < 5000 ? 1 : 3);
		const input = prepare(handMade(40, 50, { ...pullShapes(), knockRetard: staircase }), {
			vehicle: car,
			calibrations: [made(table('spark.table', 200))]
		});
		const cells = propose([{ input, findings: screenPrepared(input).findings }]).changes.find(
			(c) => c.item === 'spark.table'
		)!.cells;
		const out = (rpm: number) => {
			const c = cells.find((x) => x.x === rpm && x.y === 200)!;
			return c.from - c.to;
		};
		// Its level + 1° each; between the two the half that spreads, not the peak.
		expect([out(3000), out(5000)]).toEqual([2, 4]);
		expect(out(4000)).toBe(2);
	});
});

describe('a switch that is off', () => {
	const off = [false, 'false', 'off', 'OFF', 0, '0', 'no', 'disabled'];
	const enabled = (value: string | number | boolean) => made({ id: 'knock.enabled', kind: 'setting', value });
	it.each(off)('%s is off for the check, the hold and the comparison alike', (value) => {
		const r = reportOf(handMade(40, 20, pullShapes()), car, [enabled(value)]);
		expect(findingOf(r, 'knock.disabled')?.severity).toBe('stop');
		const holds = holdsOf({
			changes: [],
			parent: enabled(true),
			draft: enabled(value),
			cells: [],
			edits: [],
			answered: new Set(),
			unread: []
		} as unknown as HoldInput);
		expect(holds.find((h) => h.id === 'knock-off')).toMatchObject({ answerable: false });
		expect(classify('knock.enabled', [], { from: true, to: value }).class).toBe('riskier');
	});
	it.each([true, 'on', 1, 'yes', 'active'])('%s is on', (value) => {
		expect(
			outcomeOf(reportOf(handMade(40, 20, pullShapes()), car, [enabled(value)]), 'knock.disabled').outcome
		).toBe('pass');
	});
});

describe('a blend whose channel is missing for a while', () => {
	it('gave nobody knows what, not zero', () => {
		const c = calibrationWith([table('lambda.target@0', 200, 0.8), table('lambda.target@1', 200, 0.9)], {
			name: 'blended',
			blends: [
				{
					item: 'lambda.target',
					channel: 'ethanol',
					points: [0, 85],
					members: ['lambda.target@0', 'lambda.target@1']
				}
			]
		});
		const shapes = { ...pullShapes(), ethanol: (t: number) => (t < 20 ? 42.5 : Number.NaN) };
		const input = prepare(handMade(40, 20, shapes), { vehicle: car, calibrations: [c] });
		const target = along(input.frame, c, 'lambda.target', 100)!;
		expect(target[100]).toBeCloseTo(0.85, 6);
		expect(target[39 * 20]).toBeNaN();
	});
});

describe('bank 2', () => {
	it('never borrows the trims of bank 1: what its own closed loop does is not known', () => {
		const shapes = { ...pullShapes(), 'lambda.b2': pulled(0.8, 1), 'stft.b1': pulled(0, 8) };
		const input = prepare(handMade(40, 20, shapes), { vehicle: twoBanks() });
		const [one, two] = input.required.banks;
		expect(one![100]).toBeCloseTo(1.08, 5);
		expect(two![100]).toBeNaN();
		// Open loop, as bank 1 tells: lambda alone says it.
		expect(two![13 * 20]).toBeCloseTo(1, 5);
	});
});

describe('keys of findings', () => {
	it('are one of a kind in a report', () => {
		const both = reportOf(
			handMade(100, 20, {
				...pullShapes(),
				map: pulled(300, 45),
				iat: (t) => (Math.floor(t) % 7 === 0 && t % 1 < 0.05 ? 80 : 30),
				syncErrors: (t) => (t > 12 ? 2 : 0),
				faultCodes: at(3)
			}),
			vehicleWith({}, { sensors: { mapFullScaleKpa: 300 } })
		);
		const keys = both.findings.map(findingKey);
		expect(keys.filter((k) => k.startsWith('log.sensor')).length).toBe(2);
		expect(keys.filter((k) => k.startsWith('controller.state')).length).toBe(2);
		expect(new Set(keys).size).toBe(keys.length);
	});
});

describe('comparison', () => {
	it('numbers that differ by the noise of their storage are the same', () => {
		const a = made(table('fuel.table', 200, 80), { id: 'fuel.trim', kind: 'scalar', unit: '%', value: 2 });
		const b = made(table('fuel.table', 200, 80 + 1e-10), {
			id: 'fuel.trim',
			kind: 'scalar',
			unit: '%',
			value: Math.fround(2.0000001)
		});
		expect(compare(a, b).changes).toEqual([]);
	});
	it('sets a pressure ratio against a pressure by the air of the vehicle', () => {
		const ratio = {
			...table('spark.table', 2),
			y: { channel: 'pressureRatio', points: [0.2, 2] },
			values: table('spark.table', 2).values.map((r, i) => r.map((v) => v + i * 10))
		};
		const pressure = { ...ratio, y: { channel: 'map', unit: 'kPa', points: [18, 180] } };
		expect(compare(made(ratio), made(pressure), 90).changes[0]?.class).toBe('neutral');
		expect(compare(made(ratio), made(pressure)).changes[0]?.class).not.toBe('neutral');
	});
});

describe('a vehicle', () => {
	it('with a misspelt limit is refused with the nearest name', () => {
		const document = { ...car, limits: { leanwatchPct: 2 } };
		expect(() => vehicleFrom(document)).toThrow(
			'no limit is called "leanwatchPct"; the nearest is "leanWatchPct"'
		);
		expect(vehicleFrom({ ...car, limits: { leanWatchPct: 2 } }).limits).toEqual({ leanWatchPct: 2 });
	});
});

describe('no text of any report holds what is no number', () => {
	const vehicle = vehicleWith(
		{ layout: 'v', cylinders: 6, displacementL: 3, idleRpm: 850 },
		{
			injectors: {
				flowCcMin: 700,
				basePressureKpa: 300,
				pressureReference: 'manifold',
				deadTimeMs: [
					[8, 1.6],
					[14, 0.9]
				]
			}
		}
	);
	const calibration = parseCalibration(
		baseCalibration({ vehicle, fuelModel: 'speed-density', name: 'R0', timingMarginDeg: -3 })
	);
	const text = logText(
		simulate({
			vehicle,
			calibration,
			drive: standardDrive(5, 7000),
			faults: { leanCylinder: { cylinder: 2, share: 0.1 } },
			seed: 3,
			rateHz: 10
		})
	);
	const log = () => readLog([new TextEncoder().encode(text)], readContextOf(vehicle));
	const holed = (v: Float32Array, hole: (i: number) => boolean) =>
		v.map((x, i) => (hole(i) ? Number.NaN : x));
	const WAYS: [string, (v: Float32Array) => Float32Array][] = [
		['all missing', (v) => holed(v, () => true)],
		['missing half of the time', (v) => holed(v, (i) => Math.floor(i / 300) % 2 === 1)],
		['standing still', (v) => v.map(() => v[v.length >> 1]!)]
	];
	it.each(WAYS)(
		'with each channel %s in turn',
		(_, change) => {
			for (const { id } of log().channels) {
				const made = log();
				const channel = made.channels.find((c) => c.id === id)!;
				channel.values = change(channel.values);
				const report = screen(made, { vehicle, calibrations: [calibration] });
				const texts = [
					...report.findings.flatMap((f) => [f.title, f.summary, String(f.value ?? 0), String(f.limit ?? 0)]),
					...report.checks.map((c) => c.reason ?? '')
				];
				expect(
					texts.filter((t) => /NaN|Infinity|undefined/.test(t)),
					id
				).toEqual([]);
			}
		},
		120_000
	);
});
