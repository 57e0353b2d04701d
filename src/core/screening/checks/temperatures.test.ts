/** `temp.intake`, `temp.exhaust`, `temp.oil`, `temp.trans`, `temp.ecu` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at, inPull, pulled } from '../../testing/hand-made.ts';

checkCases('temp.intake', [
	{ what: 'no channel', shapes: {}, is: 'not-checked' },
	{ what: 'just under', shapes: { iat: at(59.5) }, is: 'pass' },
	{ what: 'over 60', shapes: { iat: at(61) }, is: 'watch' },
	{ what: 'over 75', shapes: { iat: at(76) }, is: 'fix' },
	{ what: 'hot only while standing', shapes: { iat: (t) => (t < 5 ? 80 : 40) }, is: 'pass' },
	{
		what: 'rises by 26 in a pull',
		shapes: { iat: (t) => (inPull(t) ? 25 + ((t - 10) / 6) * 26.5 : 25) },
		is: 'watch'
	},
	{ what: 'never loaded', shapes: { iat: at(80), tps: at(10), map: at(40) }, is: 'not-checked' }
]);

checkCases('temp.exhaust', [
	{ what: 'no channel', shapes: {}, is: 'not-checked' },
	{ what: '895', shapes: { 'egt.cyl1': at(700), 'egt.cyl2': pulled(895, 600) }, is: 'pass' },
	{ what: '905', shapes: { 'egt.cyl2': pulled(905, 600) }, is: 'watch' },
	{ what: '955', shapes: { 'egt.cyl2': pulled(955, 600) }, is: 'fix' },
	{ what: '1005', shapes: { 'egt.cyl2': pulled(1005, 600) }, is: 'stop' }
]);

checkCases('temp.oil', [
	{ what: 'no channel', shapes: {}, is: 'not-checked' },
	{ what: '129', shapes: { oilTemp: at(129) }, is: 'pass' },
	{ what: '131', shapes: { oilTemp: pulled(131, 100) }, is: 'fix' }
]);

checkCases('temp.trans', [
	{ what: '114', shapes: { transTemp: at(114) }, is: 'pass' },
	{ what: '116', shapes: { transTemp: at(116) }, is: 'fix' }
]);

checkCases('temp.ecu', [
	{ what: '75 is still in the safe zone (common practice)', shapes: { ecuTemp: at(75) }, is: 'pass' },
	{ what: '86', shapes: { ecuTemp: at(86) }, is: 'watch' }
]);

checkCases('temp.fuel', [
	{ what: 'no channel', shapes: {}, is: 'not-checked' },
	{ what: 'warm', shapes: { fuelTemp: at(64) }, is: 'pass' },
	{ what: 'hot', shapes: { fuelTemp: at(66) }, is: 'watch' },
	{ what: 'one wild sample', shapes: { fuelTemp: (t) => (t > 20 && t < 20.04 ? 110 : 40) }, is: 'pass' }
]);
