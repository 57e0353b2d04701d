/** `table.range` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, map } from '../../testing/check-cases.ts';
import { inPull } from '../../testing/hand-made.ts';

checkCases('table.range', [
	{ what: 'no calibration', shapes: {}, is: 'not-checked' },
	{ what: 'inside', shapes: {}, calibration: [map('fuel.table', [1000, 7000], [20, 180], 80)], is: 'pass' },
	{
		what: 'ends at 150 kPa',
		shapes: {},
		calibration: [map('fuel.table', [1000, 7000], [20, 150], 80)],
		is: 'fix'
	},
	{
		what: '7 % of the span beyond its end',
		shapes: { map: (t) => (inPull(t) ? 191 : 45) },
		calibration: [map('fuel.table', [1000, 7000], [20, 180], 80)],
		is: 'fix'
	},
	{
		what: 'a member of a blend that gives a third ends too early',
		shapes: { camIntake: () => 0.33 },
		calibration: [map('a', [1000, 7000], [20, 180], 80), map('b', [1000, 7000], [20, 150], 80)],
		blends: [{ item: 'fuel.table', channel: 'camIntake', points: [0, 1], members: ['a', 'b'] }],
		is: 'fix'
	},
	{
		what: 'a member of a blend that gives nothing there ends too early',
		shapes: { camIntake: () => 0 },
		calibration: [map('a', [1000, 7000], [20, 180], 80), map('b', [1000, 7000], [20, 150], 80)],
		blends: [{ item: 'fuel.table', channel: 'camIntake', points: [0, 1], members: ['a', 'b'] }],
		is: 'pass'
	},
	{
		what: 'beyond it only for a tenth of a second',
		shapes: { map: (t) => (t > 13 && t < 13.1 ? 190 : inPull(t) ? 170 : 45) },
		calibration: [map('fuel.table', [1000, 7000], [20, 180], 80)],
		is: 'pass'
	}
]);
