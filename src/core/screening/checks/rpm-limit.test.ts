/** `rpm.limit` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at, inPull } from '../../testing/hand-made.ts';

checkCases('rpm.limit', [
	{ what: 'not reached', shapes: {}, is: 'pass' },
	{
		what: 'touched for a moment at the end of a pull',
		shapes: { rpm: (t) => (inPull(t) ? Math.min(7010, 2500 + (t - 10) * 757) : 2500) },
		is: 'note'
	},
	{
		what: 'held for a second',
		shapes: { rpm: (t) => (inPull(t) ? Math.min(7000, 2500 + (t - 10) * 900) : 2500) },
		is: 'watch'
	},
	{
		what: 'two hundred short of it',
		shapes: { rpm: (t) => (inPull(t) ? 2500 + (t - 10) * 716 : 2500) },
		is: 'pass'
	},
	{ what: 'no pull', shapes: { tps: at(18), map: at(45) }, is: 'not-checked' }
]);
