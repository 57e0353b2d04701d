/** `supply.pressure` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, type Case } from '../../testing/check-cases.ts';
import { at, inPull, pulled, vehicleWith } from '../../testing/hand-made.ts';

checkCases('supply.pressure', [
	{ what: 'reference unknown', shapes: { fuelPressure: at(300) }, is: 'not-checked' },
	...(
		[
			[0.93, 'pass'],
			[0.91, 'watch'],
			[0.84, 'fix'],
			[0.74, 'stop']
		] as const
	).map(([share, is]): Case => ({
		what: `× ${share}, following the manifold`,
		shapes: { fuelPressure: (t) => (inPull(t) ? 300 * share + 70 : 245) },
		vehicle: vehicleWith({}, { injectors: { pressureReference: 'manifold', basePressureKpa: 300 } }),
		is
	})),
	{
		what: 'following the atmosphere, as it should',
		shapes: { fuelPressure: at(400) },
		vehicle: vehicleWith({}, { injectors: { pressureReference: 'atmosphere', basePressureKpa: 400 } }),
		is: 'pass'
	},
	{
		what: 'a rail at 90 % of its target',
		shapes: { railPressure: pulled(9000, 5000), railTarget: pulled(10000, 5000) },
		vehicle: vehicleWith({ injection: 'direct' }, { injectors: { pressureReference: 'controlled' } }),
		is: 'watch'
	}
]);
