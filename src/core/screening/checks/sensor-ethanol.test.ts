/** `sensor.ethanol` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at, vehicleWith } from '../../testing/hand-made.ts';

checkCases('sensor.ethanol', [
	{ what: 'not logged', shapes: {}, is: 'not-checked' },
	{ what: 'not declared', shapes: { ethanol: at(60) }, is: 'not-checked' },
	{
		what: '9 points',
		shapes: { ethanol: at(76) },
		vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
		is: 'pass'
	},
	{
		what: '65 % where 85 % was promised (common practice)',
		shapes: { ethanol: at(65) },
		vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
		is: 'watch'
	},
	{
		what: '21 points',
		shapes: { ethanol: at(64) },
		vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
		is: 'fix'
	},
	{
		what: 'changes by 8 within the log',
		shapes: { ethanol: (t) => 80 + (t / 60) * 8 },
		vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
		is: 'watch'
	}
]);
