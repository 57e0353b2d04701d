/** `oil.pressure` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at, inPull, pullShapes } from '../../testing/hand-made.ts';

checkCases('oil.pressure', [
	{ what: 'no channel', shapes: {}, is: 'not-checked' },
	{
		what: '75 kPa per 1000 rpm',
		shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * 0.075 },
		is: 'pass'
	},
	{
		what: '65 kPa per 1000 rpm',
		shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * 0.065 },
		is: 'stop'
	},
	{
		what: 'low only at part load',
		shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * (inPull(t) ? 0.08 : 0.03) },
		is: 'pass'
	},
	{
		what: 'low while cold',
		shapes: { oilPressure: (t) => pullShapes()['rpm']!(t) * 0.05, ect: at(40) },
		is: 'not-checked'
	}
]);
