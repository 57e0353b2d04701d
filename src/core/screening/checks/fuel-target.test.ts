/** `fuel.target` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, GONE } from '../../testing/check-cases.ts';
import { at, pulled, vehicleWith } from '../../testing/hand-made.ts';

checkCases('fuel.target', [
	{ what: 'no target', shapes: { 'lambda.target': GONE }, is: 'not-checked' },
	{
		what: '0.895 boosted',
		shapes: { 'lambda.target': pulled(0.895, 1), 'lambda.b1': pulled(0.895, 1) },
		is: 'pass'
	},
	{
		what: '0.92 boosted, port',
		shapes: { 'lambda.target': pulled(0.92, 1), 'lambda.b1': pulled(0.92, 1) },
		is: 'fix'
	},
	{
		what: '0.92 boosted, direct',
		shapes: { 'lambda.target': pulled(0.92, 1), 'lambda.b1': pulled(0.92, 1) },
		vehicle: vehicleWith({ injection: 'direct' }),
		is: 'watch'
	},
	{ what: 'no boost', shapes: { map: pulled(98, 45), 'lambda.target': at(0.95) }, is: 'not-checked' },
	{ what: 'naturally aspirated', shapes: {}, vehicle: vehicleWith({ aspiration: 'na' }), is: 'pass' }
]);
