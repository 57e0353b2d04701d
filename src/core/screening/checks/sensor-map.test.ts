/** `sensor.map` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, GONE, type Case } from '../../testing/check-cases.ts';
import { pullShapes, vehicleWith } from '../../testing/hand-made.ts';

checkCases('sensor.map', [
	{ what: 'engine never stands', shapes: {}, is: 'not-checked' },
	...(
		[
			[102.5, 'pass'],
			[103.5, 'watch'],
			[106.5, 'fix']
		] as const
	).map(([kpa, is]): Case => ({
		what: `${kpa} against 100 of its own barometer`,
		shapes: {
			rpm: (t) => (t < 2 ? 0 : pullShapes()['rpm']!(t)),
			map: (t) => (t < 2 ? kpa : pullShapes()['map']!(t))
		},
		vehicle: vehicleWith({}, { sensors: { baro: 'own' } }),
		is
	})),
	{
		what: 'only standard pressure: 95 is altitude, not a fault',
		shapes: {
			baro: GONE,
			rpm: (t) => (t < 2 ? 0 : pullShapes()['rpm']!(t)),
			map: (t) => (t < 2 ? 95 : 45)
		},
		is: 'pass'
	},
	{
		what: 'only standard pressure: 92',
		shapes: {
			baro: GONE,
			rpm: (t) => (t < 2 ? 0 : pullShapes()['rpm']!(t)),
			map: (t) => (t < 2 ? 92 : 45)
		},
		is: 'watch'
	}
]);
