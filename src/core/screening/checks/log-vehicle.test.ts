import { describe, expect, it } from 'vitest';
import {
	air,
	at,
	findingOf,
	handMade,
	outcomeOf,
	pulled,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';

const gearbox = { gears: [3.6, 2.1, 1.4, 1, 0.8], finalDrive: 3.9, tyreCircumferenceM: 1.98 };
const ratio = (g: number) => (1000 / 60 / 1.98) * gearbox.gears[g - 1]! * 3.9;
/** Fourth gear at first, third from 10 s on, idle at the end. */
const drive = (engine: Record<string, Shape> = {}): Record<string, Shape> => {
	const s = { ...pullShapes(), ...engine };
	const idle = (t: number) => t >= 40;
	return {
		...s,
		rpm: (t) => (idle(t) ? 850 : s['rpm']!(t)),
		map: (t) => (idle(t) ? 36 : s['map']!(t)),
		tps: (t) => (idle(t) ? 3 : s['tps']!(t)),
		speed: (t) => (idle(t) ? 0 : s['rpm']!(t) / ratio(t < 10 ? 4 : 3))
	};
};
const found = (engine: object, shapes: Record<string, Shape>, more: object = {}) =>
	findingOf(
		reportOf(
			handMade(60, 20, shapes),
			vehicleWith({ idleRpm: 850, ...engine }, { transmission: gearbox, ...more })
		),
		'log.vehicle'
	);

describe('log.vehicle', () => {
	it('says nothing of the right car', () => {
		expect(found({}, drive())).toBeUndefined();
		const report = reportOf(
			handMade(60, 20, drive()),
			vehicleWith({ idleRpm: 850 }, { transmission: gearbox })
		);
		expect(outcomeOf(report, 'log.vehicle').reason).toMatch(/^\d facts/);
	});
	it('a boosted log on an aspirated engine is one contradiction', () => {
		expect(found({ aspiration: 'na' }, drive())).toMatchObject({ severity: 'watch', value: 1 });
	});
	it('a boosted four-cylinder log on an aspirated V8 with another gearbox is not this car', () => {
		const v8 = { aspiration: 'na', layout: 'v', cylinders: 8, revLimitRpm: 5800 };
		const f = found(v8, drive(), {
			transmission: { ...gearbox, gears: [2.9, 1.8, 1.2, 0.85], finalDrive: 3.1 }
		})!;
		expect(f.severity).toBe('stop');
		expect(f.title).toBe('This is not this car');
		for (const word of ['stated as aspirated', 'limit is stated as 5800', 'stated gears'])
			expect(f.summary).toContain(word);
	});
	it.each<[string, object, Record<string, Shape>, object, string]>([
		['turns faster than its limit', { revLimitRpm: 5800 }, drive(), {}, 'limit is stated as 5800'],
		['another idle', { idleRpm: 1150 }, drive(), {}, '1150 rpm are stated'],
		[
			'another gearbox',
			{},
			drive(),
			{ transmission: { ...gearbox, gears: [2.8, 1.7, 1.2, 0.9, 0.7] } },
			'stated gears'
		],
		[
			'a cylinder too many',
			{ cylinders: 4 },
			{ ...drive(), 'egt.cyl6': (t) => 600 + t },
			{},
			'cylinder 6 is logged'
		],
		['a second bank', {}, { ...drive(), 'pw.b2': pulled(9, 3) }, {}, 'one bank is stated'],
		['twice the air', { displacementL: 1 }, { ...drive(), maf: air(520) }, {}, 'of the air that 1 l take in'],
		['no boost at all', {}, drive({ map: pulled(100, 45) }), {}, 'stated as turbocharged'],
		[
			'a pressure that its sensor cannot show',
			{},
			drive(),
			{ sensors: { mapFullScaleKpa: 150 } },
			'end at 150 kPa'
		]
	])('%s', (_, engine, shapes, more, says) => {
		const f = found(engine, shapes, more)!;
		expect(f.severity).toBe('watch');
		expect(f.summary).toContain(says);
	});
	it('other tyres are no other gearbox', () => {
		expect(
			found({}, drive(), { transmission: { ...gearbox, tyreCircumferenceM: 1.98 * 1.05 } })
		).toBeUndefined();
	});
	it('a limiter that is overshot is none either', () => {
		expect(found({ revLimitRpm: 6300 }, drive())).toBeUndefined();
	});
	it('is not checked where nothing tells', () => {
		const { map: _, ...rest } = pullShapes();
		const report = reportOf(handMade(40, 20, { ...rest, rpm: at(Number.NaN) }), vehicleWith());
		expect(outcomeOf(report, 'log.vehicle').outcome).toBe('not-checked');
	});
});
