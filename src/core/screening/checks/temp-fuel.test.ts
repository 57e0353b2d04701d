/** `temp.fuel` on hand-made logs; the limit is the default of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at } from '../../testing/hand-made.ts';

checkCases('temp.fuel', [
	{ what: 'no channel', shapes: {}, is: 'not-checked' },
	{ what: 'warm', shapes: { fuelTemp: at(64) }, is: 'pass' },
	{ what: 'hot', shapes: { fuelTemp: at(66) }, is: 'watch' },
	{ what: 'one wild sample', shapes: { fuelTemp: (t) => (t > 20 && t < 20.04 ? 110 : 40) }, is: 'pass' }
]);
