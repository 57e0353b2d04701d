/** `idle.vacuum` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, idling } from '../../testing/check-cases.ts';
import { vehicleWith } from '../../testing/hand-made.ts';

checkCases('idle.vacuum', [
	{ what: 'no baseline', shapes: idling, is: 'not-checked' },
	{
		what: '9 kPa more',
		shapes: idling,
		vehicle: vehicleWith({}, { baselines: { idleMapKpa: 29 } }),
		is: 'pass'
	},
	{
		what: '11 kPa more',
		shapes: idling,
		vehicle: vehicleWith({}, { baselines: { idleMapKpa: 27 } }),
		is: 'watch'
	},
	{
		what: '15 inHg of vacuum where it always was, 9 today: 20 kPa (common practice)',
		shapes: { ...idling, map: (t) => (t < 30 ? 45 : 100 - 9 * 3.386389) },
		vehicle: vehicleWith({}, { baselines: { idleMapKpa: 100 - 15 * 3.386389 } }),
		is: 'fix'
	},
	{
		what: 'no idle',
		shapes: {},
		vehicle: vehicleWith({}, { baselines: { idleMapKpa: 30 } }),
		is: 'not-checked'
	}
]);
