/** `rpm.limit` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at } from '../../testing/hand-made.ts';

checkCases('rpm.limit', [
	{ what: 'not reached', shapes: {}, is: 'pass' },
	{ what: 'no pull', shapes: { tps: at(18), map: at(45) }, is: 'not-checked' }
]);
