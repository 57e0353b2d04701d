/** `temp.coolant` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, GONE, idle } from '../../testing/check-cases.ts';
import { at, inPull, pulled, vehicleWith } from '../../testing/hand-made.ts';

checkCases('temp.coolant', [
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
]);
