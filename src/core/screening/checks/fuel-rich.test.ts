/** `fuel.rich` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, GONE, rippled } from '../../testing/check-cases.ts';
import { inPull, pulled, vehicleWith } from '../../testing/hand-made.ts';

checkCases('fuel.rich', [
	{ what: 'no lambda', shapes: { 'lambda.b1': GONE }, is: 'not-checked' },
	{ what: '−4 %', shapes: { 'lambda.b1': pulled(0.8 * 0.96, 1) }, is: 'pass' },
	{ what: '−6 %', shapes: { 'lambda.b1': pulled(0.8 * 0.94, 1) }, is: 'watch' },
	{ what: '−11 %', shapes: { 'lambda.b1': rippled(0.8 * 0.89) }, is: 'fix' },
	{
		what: 'λ 0.69 on target',
		shapes: { 'lambda.b1': rippled(0.69), 'lambda.target': pulled(0.69, 1) },
		is: 'fix'
	},
	{
		what: 'λ 0.66 with 85 % ethanol',
		shapes: { 'lambda.b1': pulled(0.66, 1), 'lambda.target': pulled(0.66, 1) },
		vehicle: vehicleWith({}, { fuel: { ethanolPct: 85 } }),
		is: 'pass'
	},
	{
		what: 'rich only for a tenth of a second',
		shapes: { 'lambda.b1': (t) => (t > 13 && t < 13.1 ? 0.7 : inPull(t) ? 0.8 : 1) },
		is: 'pass'
	}
]);
