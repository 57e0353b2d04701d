/** `knock.missed`, `knock.monitor`, `knock.disabled`, `knock.timing` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, map } from '../../testing/check-cases.ts';
import { at, pulled, vehicleWith } from '../../testing/hand-made.ts';

checkCases('knock.missed', [
	{ what: 'no monitor', shapes: {}, is: 'not-checked' },
	{ what: 'quiet', shapes: { knockMonitor: at(20) }, is: 'pass' },
	{
		what: 'heard for 0.3 s and nothing pulled',
		shapes: { knockMonitor: (t) => (t > 13 && t < 13.3 ? 80 : 10) },
		is: 'stop'
	},
	{
		what: 'heard and pulled',
		shapes: {
			knockMonitor: (t) => (t > 13 && t < 13.3 ? 80 : 10),
			knockRetard: (t) => (t > 13 && t < 14 ? 2 : 0)
		},
		is: 'pass'
	},
	{
		what: 'heard at cruise only',
		shapes: { knockMonitor: (t) => (t > 23 && t < 24 ? 80 : 10) },
		is: 'pass'
	}
]);

checkCases('knock.monitor', [
	{ what: 'no monitor', shapes: {}, is: 'not-checked' },
	{
		what: 'retard and a silent monitor',
		shapes: { knockMonitor: at(10), knockRetard: (t) => (t > 13 && t < 13.2 ? 2 : 0) },
		is: 'note'
	},
	{
		what: 'both together',
		shapes: {
			knockMonitor: (t) => (t > 13 && t < 13.2 ? 80 : 10),
			knockRetard: (t) => (t > 13 && t < 13.2 ? 2 : 0)
		},
		is: 'pass'
	}
]);

checkCases('knock.disabled', [
	{ what: 'no calibration', shapes: {}, is: 'not-checked' },
	{
		what: 'on',
		shapes: {},
		calibration: [{ id: 'knock.enabled', kind: 'setting', value: true }],
		is: 'pass'
	},
	{
		what: 'off',
		shapes: {},
		calibration: [{ id: 'knock.enabled', kind: 'setting', value: false }],
		is: 'stop'
	},
	{
		what: 'sensitivity 50',
		shapes: {},
		calibration: [{ id: 'knock.sensitivity', kind: 'scalar', unit: '%', value: 50 }],
		is: 'pass'
	},
	{
		what: 'sensitivity 49',
		shapes: {},
		calibration: [{ id: 'knock.sensitivity', kind: 'scalar', unit: '%', value: 49 }],
		is: 'stop'
	}
]);

checkCases('knock.timing', [
	{ what: 'no timing', shapes: {}, is: 'not-checked' },
	{ what: '8.5°', shapes: { spark: pulled(8.5, 30) }, is: 'pass' },
	{ what: '6 degrees at full throttle (common practice)', shapes: { spark: pulled(6, 30) }, is: 'note' },
	{
		what: '6 degrees and very rich',
		shapes: { spark: pulled(6, 30), 'lambda.b1': pulled(0.73, 1), 'lambda.target': pulled(0.73, 1) },
		is: 'watch'
	},
	{
		what: 'base timing of 12 degrees, final 5: knock took it, not fear',
		shapes: { spark: pulled(5, 30), sparkBase: pulled(12, 30) },
		is: 'pass'
	},
	{
		what: 'a table of 6 degrees where only the final timing is logged, raised by something',
		shapes: { spark: pulled(9, 30) },
		calibration: [map('spark.table', [1000, 7000], [20, 180], 6)],
		is: 'note'
	},
	{
		what: 'on ethanol',
		shapes: { spark: pulled(6, 30) },
		vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
		is: 'pass'
	}
]);
