/** `sensor.alone` on hand-made logs: who saw the mixture under boost, and what is known of it. */
import { checkCases, GONE } from '../../testing/check-cases.ts';
import { pullShapes, vehicleWith } from '../../testing/hand-made.ts';

const lambda = pullShapes()['lambda.b1']!;
const sensor = (more: object) =>
	vehicleWith(
		{},
		{ sensors: { lambda: [{ channel: 'lambda.b1', site: 'bank1', kind: 'factory', ...more }] } }
	);

checkCases('sensor.alone', [
	{ what: 'nobody said whether it is compensated', shapes: {}, is: 'note' },
	{
		what: 'known to be without compensation',
		shapes: {},
		vehicle: sensor({ pressureCompensated: false }),
		is: 'watch'
	},
	{ what: 'compensated', shapes: {}, vehicle: sensor({ pressureCompensated: true }), is: 'pass' },
	{ what: 'a narrowband', shapes: {}, vehicle: sensor({ kind: 'narrowband' }), is: 'watch' },
	{
		what: 'an instrument beside it',
		shapes: { 'lambda.ref': lambda },
		vehicle: sensor({ pressureCompensated: false }),
		is: 'pass'
	},
	{ what: 'never boosted', shapes: { map: (t) => Math.min(95, pullShapes()['map']!(t)) }, is: 'pass' },
	{ what: 'no lambda at all', shapes: { 'lambda.b1': GONE }, is: 'not-checked' }
]);
