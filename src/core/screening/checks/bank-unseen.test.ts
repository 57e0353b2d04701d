/** `bank.unseen` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, GONE } from '../../testing/check-cases.ts';
import { pullShapes, twoBanks } from '../../testing/hand-made.ts';

checkCases('bank.unseen', [
	{ what: 'one bank', shapes: {}, is: 'pass' },
	{ what: 'two banks, one sensor', shapes: {}, vehicle: twoBanks(), is: 'watch' },
	{
		what: 'two banks, two sensors',
		shapes: { 'lambda.b2': pullShapes()['lambda.b1']! },
		vehicle: twoBanks(),
		is: 'pass'
	},
	{
		what: 'two banks, one sensor in the common pipe',
		shapes: { 'lambda.b1': GONE, 'lambda.ref': pullShapes()['lambda.b1']! },
		vehicle: twoBanks(),
		is: 'watch'
	},
	{ what: 'no lambda at all', shapes: { 'lambda.b1': GONE }, vehicle: twoBanks(), is: 'not-checked' }
]);
