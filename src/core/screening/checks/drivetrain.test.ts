/** `traction`, `cam.position` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import { at, pulled, pullShapes } from '../../testing/hand-made.ts';

checkCases('traction', [
	{ what: 'no speed', shapes: {}, is: 'not-checked' },
	{ what: 'in its ratio', shapes: { gear: at(3), speed: (t) => pullShapes()['rpm']!(t) / 40 }, is: 'pass' },
	{
		what: '12 % faster for a second',
		shapes: { gear: at(3), speed: (t) => pullShapes()['rpm']!(t) / (t > 12 && t < 13 ? 44.8 : 40) },
		is: 'note'
	}
]);

checkCases('cam.position', [
	{ what: 'no cam', shapes: {}, is: 'not-checked' },
	{ what: '4° off', shapes: { camIntake: pulled(16, 20), camIntakeTarget: at(20) }, is: 'pass' },
	{ what: '6° off', shapes: { camIntake: pulled(14, 20), camIntakeTarget: at(20) }, is: 'watch' }
]);
