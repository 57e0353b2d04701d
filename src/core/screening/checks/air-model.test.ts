/** `air.model` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { air, pulled } from '../../testing/hand-made.ts';

checkCases('air.model', [
	{ what: 'no model', shapes: { maf: pulled(300, 20) }, is: 'not-checked' },
	{ what: '4 % apart', shapes: { maf: air(300), airflowModel: air(300, 312 / 300) }, is: 'pass' },
	{ what: '6 % apart', shapes: { maf: air(300), airflowModel: air(300, 318 / 300) }, is: 'watch' },
	{
		what: '510 against 410 g/s (common practice)',
		shapes: { maf: air(410), airflowModel: air(410, 510 / 410) },
		is: 'fix'
	}
]);
