/** `cyl.lambda`, `cyl.knock`, `cyl.egt`, `cyl.trim` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, type Case } from '../../testing/check-cases.ts';
import { at, perCylinder, pulled, v6, vehicleWith, pullShapes } from '../../testing/hand-made.ts';

checkCases('cyl.lambda', [
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
]);

checkCases('cyl.knock', [
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
]);

checkCases('cyl.egt', [
	{ what: 'no channels', shapes: {}, is: 'not-checked' },
	{ what: '55 apart at cruise', shapes: perCylinder('egt', (c) => at(c === 3 ? 755 : 700)), is: 'pass' },
	{ what: '65 apart at cruise', shapes: perCylinder('egt', (c) => at(c === 3 ? 765 : 700)), is: 'watch' },
	{
		what: 'apart at the end of a pull of six seconds',
		shapes: perCylinder('egt', (c) => pulled(c === 3 ? 900 : 700, 700)),
		is: 'watch'
	},
	{
		what: 'apart in a pull of three seconds: the sensors are still on their way',
		shapes: {
			...pullShapes(10, 3),
			...perCylinder('egt', (c) => (t) => (t >= 10 && t < 13 && c === 3 ? 900 : 700))
		},
		is: 'pass'
	},
	{
		what: 'apart at steady load of eight seconds',
		shapes: {
			...pullShapes(10, 3),
			map: (t) => (t > 20 && t < 28 ? 140 : t >= 10 && t < 13 ? 170 : 45),
			...perCylinder('egt', (c) => (t) => (t > 20 && t < 28 && c === 3 ? 800 : 700))
		},
		is: 'watch'
	}
]);

checkCases('cyl.trim', [
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
]);
