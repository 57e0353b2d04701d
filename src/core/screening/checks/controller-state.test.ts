/** `controller.state` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at } from '../../testing/hand-made.ts';

checkCases('controller.state', [
	{ what: 'nothing logged', shapes: {}, is: 'not-checked' },
	{ what: 'sync errors that stand', shapes: { syncErrors: at(3) }, is: 'pass' },
	{ what: 'sync errors rise under load', shapes: { syncErrors: (t) => (t < 13 ? 0 : 1) }, is: 'stop' },
	{ what: 'sync errors rise at cruise', shapes: { syncErrors: (t) => (t < 20 ? 0 : 1) }, is: 'watch' },
	{ what: 'codes stored', shapes: { faultCodes: at(2) }, is: 'fix' },
	{
		what: 'intervention in a pull',
		shapes: { torqueLimit: (t) => (t > 12 && t < 13 ? 1 : 0) },
		is: 'watch'
	},
	{ what: 'intervention elsewhere', shapes: { torqueLimit: (t) => (t > 22 && t < 23 ? 1 : 0) }, is: 'pass' }
]);
