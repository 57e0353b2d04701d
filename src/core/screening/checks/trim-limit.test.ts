/** `trim.limit` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at, pulled } from '../../testing/hand-made.ts';

checkCases('trim.limit', [
	{ what: 'no trim', shapes: {}, is: 'not-checked' },
	{ what: '7.5 % under load', shapes: { 'stft.b1': pulled(7.5, 0) }, is: 'pass' },
	{ what: '8.5 % under load', shapes: { 'stft.b1': pulled(8.5, 0) }, is: 'fix' },
	{
		what: 'flat at its end at cruise',
		shapes: { 'stft.b1': (t) => (t > 20 && t < 25 ? 20 : Math.sin(t) * 3) },
		is: 'fix'
	},
	{ what: 'a small correction that stands still', shapes: { 'stft.b1': at(1.6) }, is: 'pass' }
]);
