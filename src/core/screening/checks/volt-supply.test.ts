/** `volt.supply` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at, inPull, pullShapes } from '../../testing/hand-made.ts';

checkCases('volt.supply', [
	{ what: 'no channel', shapes: {}, is: 'not-checked' },
	{ what: '14.2 is healthy (common practice)', shapes: { vbat: at(14.2) }, is: 'pass' },
	{ what: '12.6', shapes: { vbat: at(12.6) }, is: 'pass' },
	{ what: '12.4', shapes: { vbat: (t) => (t > 20 && t < 22 ? 12.4 : 14) }, is: 'watch' },
	{ what: '11.9', shapes: { vbat: (t) => (t > 20 && t < 22 ? 11.9 : 14) }, is: 'fix' },
	{ what: 'a dip of half a second', shapes: { vbat: (t) => (t > 20 && t < 20.5 ? 11 : 14) }, is: 'pass' },
	{ what: '15.1', shapes: { vbat: at(15.1) }, is: 'watch' },
	{ what: '15.6', shapes: { vbat: at(15.6) }, is: 'fix' },
	{
		what: 'falls by 1 V in a pull',
		shapes: { vbat: (t) => (inPull(t) ? 14.2 - (t - 10) / 5.5 : 14.2) },
		is: 'watch'
	},
	{
		what: 'low only with the engine standing',
		shapes: { vbat: (t) => (t < 5 ? 11.5 : 14), rpm: (t) => (t < 5 ? 0 : pullShapes()['rpm']!(t)) },
		is: 'pass'
	}
]);
