import { describe, expect, it } from 'vitest';
import { type Calibration } from '../calibration/document.ts';
import { prepare } from '../evidence/prepare.ts';
import { plain } from '../format.ts';
import {
	handMade,
	inPull,
	pullShapes,
	vehicleWith,
	type Shape,
	calibrationWith
} from '../testing/hand-made.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { deliveredLines } from './delivered.ts';
import type { Line, LinkName, Quantity } from './line.ts';

/** 2500 to 6500 rpm in the pull, as the hand-made log drives it. */
const rpmAt = (t: number) => (inPull(t) ? 2500 + ((t - 10) / 6) * 4000 : 2500);
const AXES = {
	x: { channel: 'rpm', points: [2000, 7000] },
	y: { channel: 'map', points: [40, 200] }
};
const flat = (v: number) => [
	[v, v],
	[v, v]
];
const calibration = (more: object[] = []): Calibration =>
	calibrationWith(
		[
			{ id: 'fuel.referencePulse', kind: 'scalar', unit: 'ms', value: 10 },
			{ id: 'fuel.mapScaling', kind: 'setting', value: 'none' },
			{ id: 'fuel.table', kind: 'map', ...AXES, values: flat(90) },
			{
				id: 'lambda.target',
				kind: 'map',
				...AXES,
				values: [
					[1, 1],
					[0.75, 0.75]
				]
			},
			{ id: 'spark.table', kind: 'map', ...AXES, values: flat(14) },
			{
				id: 'boost.target',
				kind: 'curve',
				unit: 'kPa',
				x: { channel: 'rpm', points: [2000, 7000] },
				values: [170, 170]
			},
			...more
		].filter(
			(i, n, all) => all.findLastIndex((j) => (j as { id: string }).id === (i as { id: string }).id) === n
		),
		{ name: 'R0', fuelModel: 'pulse-width' }
	);
/** The target that the table gives at a pressure. */
const targetAt = (kpa: number) => 1 - (0.25 * (kpa - 40)) / 160;
const target = (t: number) => targetAt(inPull(t) ? 170 : 45);

function lines(
	log: Record<string, Shape | null> = {},
	more: object[] = [],
	vehicle: Vehicle = vehicleWith()
): Line[] {
	const map = log['map'];
	// Another pressure reads another target.
	const follows: Shape = map ? (t) => targetAt(map(t)) : target;
	const shapes: Record<string, Shape | null> = {
		...pullShapes(),
		'lambda.target': follows,
		'lambda.b1': follows,
		spark: () => 14,
		sparkBase: () => 14,
		boostTarget: () => 170,
		pedal: (t) => (inPull(t) ? 100 : 18),
		...log
	};
	const kept = Object.fromEntries(Object.entries(shapes).filter(([, s]) => s !== null)) as Record<
		string,
		Shape
	>;
	const c = calibration(more);
	return deliveredLines(prepare(handMade(30, 20, kept), { vehicle, calibrations: [c] }));
}
const line = (all: Line[], q: Quantity) => all.find((l) => l.quantity === q)!;
const values = (l: Line, name: LinkName) => l.links.find((k) => k.name === name)!.values;

describe('a car that does what the tables say', () => {
	it('has no broken link, and each link its values by engine speed', () => {
		const all = lines();
		expect(all.map((l) => [l.quantity, l.broken])).toEqual([
			['fuel', null],
			['timing', null],
			['boost', null],
			['throttle', null]
		]);
		const timing = line(all, 'timing');
		expect(timing.axis.points[0]).toBe(2750);
		expect(new Set(values(timing, 'written'))).toEqual(new Set([14]));
		expect(new Set(values(timing, 'delivered'))).toEqual(new Set([14]));
		expect(values(line(all, 'boost'), 'measured').every((v) => v === 170)).toBe(true);
	});
	it('has no line of boost without a charger', () => {
		const all = lines({}, [], vehicleWith({ aspiration: 'na' }));
		expect(all.map((l) => l.quantity)).not.toContain('boost');
	});
});

/** A planted fault, the line that breaks, at which link, and what it is called. */
const FAULTS: [string, Quantity, LinkName, RegExp, Record<string, Shape | null>, object[]?][] = [
	[
		'a learned knock table',
		'timing',
		'delivered',
		/3.0° of retard are learned/,
		{ knockLearned: () => 3, spark: () => 11 }
	],
	['a doubted octane', 'timing', 'delivered', /80 % of the octane/, { octaneFactor: () => 80 }],
	[
		'timing held back by nobody knows what',
		'timing',
		'delivered',
		/−2.0° against the table/,
		{ spark: () => 12 }
	],
	[
		'another file: its base is off as well',
		'timing',
		'commanded',
		/base timing is off already/,
		{ spark: () => 10, sparkBase: () => 10 }
	],
	[
		'another file: another target',
		'fuel',
		'commanded',
		/ran λ 0.850 where the revision says λ 0.797/,
		{ 'lambda.target': () => 0.85, 'lambda.b1': () => 0.85 }
	],
	['trims that were not reset', 'fuel', 'delivered', /\+8.0 % of learned trim/, { 'ltft.b1': () => 8 }],
	[
		'an enrichment that nobody wrote',
		'fuel',
		'delivered',
		/leaves the table by \+12.\d % at 6\d50 rpm/,
		{ 'pw.b1': (t) => (inPull(t) ? (rpmAt(t) > 5900 ? 10.1 : 9) : 3) }
	],
	[
		'a mixture that is off while the pulse follows the table',
		'fuel',
		'measured',
		/off its target by \+6.0 %.*while the pulse follows the table/,
		{ 'lambda.b1': (t) => target(t) * 1.06 }
	],
	[
		'a set point that is taken back',
		'boost',
		'commanded',
		/−20 kPa against/,
		{ boostTarget: () => 150, map: (t) => (inPull(t) ? 150 : 45) }
	],
	[
		'an overshoot',
		'boost',
		'measured',
		/185 kPa instead of 170 kPa.*overshoots/,
		{ map: (t) => (inPull(t) ? 185 : 45) }
	],
	[
		'boost that falls away with the gate shut',
		'boost',
		'measured',
		/closed to its end/,
		{ map: (t) => (inPull(t) ? (rpmAt(t) > 5500 ? 150 : 170) : 45), wastegateDuty: () => 99 }
	],
	[
		'a throttle that somebody closes',
		'throttle',
		'delivered',
		/opens to 8\d % .* whose limit it is isn’t logged/,
		{ tps: (t) => (inPull(t) ? (rpmAt(t) > 5000 ? 82 : 100) : 18) }
	],
	[
		'a demand table that never asked for more',
		'throttle',
		'written',
		/that is what the demand table of the revision says/,
		{ tps: (t) => (inPull(t) ? 85 : 18) },
		[
			{
				id: 'throttle.demand',
				kind: 'map',
				unit: '%',
				x: { channel: 'rpm', points: [2000, 7000] },
				y: { channel: 'pedal', points: [0, 100] },
				values: [
					[0, 0],
					[85, 85]
				]
			}
		]
	]
];

describe('each planted fault breaks its own line at its own link, and no other', () => {
	it.each(FAULTS)('%s', (_, quantity, at, says, log, more = []) => {
		const all = lines(log, more);
		const broken = all.filter((l) => l.broken !== null);
		expect(broken.map((l) => l.quantity)).toEqual([quantity]);
		expect(broken[0]!.broken!.at).toBe(at);
		expect(plain(broken[0]!.broken!.why)).toMatch(says);
	});
});

describe('what is not logged is said, and breaks nothing', () => {
	it.each([
		['spark', 'timing', 'delivered', /isn’t logged/],
		['sparkBase', 'timing', 'commanded', /isn’t logged/],
		['boostTarget', 'boost', 'commanded', /set point isn’t logged/],
		['pedal', 'throttle', 'commanded', /pedal isn’t logged/],
		['pw.b1', 'fuel', 'delivered', /pulse width isn’t logged/]
	] as const)('without %s', (id, quantity, name, says) => {
		const l = line(lines({ [id]: null }), quantity);
		expect(l.links.find((k) => k.name === name)!.missing).toMatch(says);
		expect(l.broken).toBeNull();
	});
});
