/** `throttle.closing`, `throttle.slow` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { inPull, pulled, vehicleWith } from '../../testing/hand-made.ts';

checkCases('throttle.closing', [
	{ what: 'no pedal', shapes: {}, is: 'not-checked' },
	{ what: 'open', shapes: { pedal: pulled(100, 18) }, is: 'pass' },
	{
		what: '79 % near 4940 rpm (common practice)',
		shapes: { pedal: pulled(100, 18), tps: (t) => (t > 13.4 && t < 14 ? 79 : inPull(t) ? 100 : 18) },
		is: 'watch'
	},
	{
		what: 'a throttle whose own fully open is 86 %',
		shapes: { pedal: pulled(100, 18), tps: pulled(86, 18) },
		vehicle: vehicleWith({}, { baselines: { fullThrottlePct: 86 } }),
		is: 'pass'
	},
	{
		what: 'one that opens slowly, over more than a second, and then stays open',
		shapes: { pedal: pulled(100, 18), tps: (t) => (inPull(t) ? 100 - 82 * Math.exp(-(t - 10) / 0.5) : 18) },
		is: 'pass'
	},
	{
		what: 'one that never gets beyond 79 %',
		shapes: { pedal: pulled(100, 18), tps: pulled(79, 18) },
		is: 'watch'
	},
	{ what: 'half a pedal', shapes: { pedal: pulled(60, 18), tps: pulled(50, 18) }, is: 'not-checked' }
]);

checkCases('throttle.slow', [
	{
		what: 'opens in 0.3 s',
		shapes: { pedal: pulled(100, 18), tps: (t) => (t >= 10.3 && t < 16 ? 100 : 18) },
		is: 'pass'
	},
	{
		what: 'opens in 0.6 s',
		shapes: { pedal: pulled(100, 18), tps: (t) => (t >= 10.6 && t < 16 ? 100 : 18) },
		is: 'note'
	}
]);
