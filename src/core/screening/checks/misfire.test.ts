/** `misfire` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at } from '../../testing/hand-made.ts';

checkCases('misfire', [
	{ what: 'not counted', shapes: {}, is: 'not-checked' },
	{ what: 'counts that stand', shapes: { 'misfire.cyl1': at(5) }, is: 'pass' },
	{ what: 'rises at cruise', shapes: { 'misfire.cyl1': (t) => (t < 25 ? 0 : 4) }, is: 'pass' },
	{ what: 'three under load', shapes: { 'misfire.cyl1': (t) => (t < 12 ? 0 : t < 13 ? 1 : 3) }, is: 'fix' },
	{
		what: 'eleven in one pull',
		shapes: { 'misfire.cyl1': (t) => (t < 12 ? 0 : t < 13 ? 5 : 11) },
		is: 'stop'
	}
]);
