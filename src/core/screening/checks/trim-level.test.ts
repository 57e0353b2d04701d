/** `trim.level` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases, idling } from '../../testing/check-cases.ts';
import { at, pulled } from '../../testing/hand-made.ts';

checkCases('trim.level', [
	{ what: 'no trims', shapes: {}, is: 'not-checked' },
	{ what: '4.9 %', shapes: { ...idling, 'stft.b1': at(2), 'ltft.b1': at(2.9) }, is: 'pass' },
	{ what: '−5.5 %', shapes: { ...idling, 'stft.b1': at(-2), 'ltft.b1': at(-3.5) }, is: 'watch' },
	{ what: '10.5 %', shapes: { ...idling, 'ltft.b1': at(10.5) }, is: 'fix' },
	{ what: 'large only while loaded', shapes: { ...idling, 'ltft.b1': pulled(12, 0) }, is: 'pass' }
]);
