/** `log.units`: units that the values contradict, and columns that two units fit. */
import { notChecked, pass, found } from '../measure.ts';
import { check } from '../check.ts';
import { fixed, list, uncapital } from '../../format.ts';

export const logUnits = check({
	code: 'log.units',
	title: 'Units',
	section: 'fit',
	advice: 'log',
	plain: (f) =>
		`A unit is not clear (${uncapital(f.title)}). Look it up in the logging program and tell your tuner.`,
	run({ log }) {
		const wrong = log.channels.filter((c) => c.contradiction !== null);
		if (log.channels.length === 0) return notChecked('no channel was recognised', 'rpm');
		// Road speed moves no judgement; it is only asked.
		const open = log.channels.filter((c) => c.undecided !== null && c.id !== 'speed');
		if (wrong.length + open.length === 0)
			return pass('The values of every channel fit the unit that they are read in.');
		return found({
			code: 'log.units',
			severity: wrong.length ? 'fix' : 'watch',
			title: `Unit in doubt: ${list([...wrong, ...open].map((c) => c.raw))}`,
			summary: `${[
				...wrong.map(
					(c) =>
						`"${c.raw}" says ${c.contradiction!.written}, its values only make sense in ${c.contradiction!.read}`
				),
				...open.map(
					(c) =>
						`"${c.raw}" has no unit: its middle is ${c
							.undecided!.readings.map((r) => `${fixed(r.median, 0)} ${c.unit} read as ${r.unit}`)
							.join(' or ')}`
				)
			].join('; ')}.`,
			value: wrong.length + open.length,
			limit: 0,
			unit: 'channels',
			channels: [...wrong, ...open].map((c) => c.id),
			causes: [
				'the logging program writes one unit and exports another',
				'the column is not what its name says'
			],
			next: [
				'say on the page of the channels what the column really is',
				'ask the customer for the unit set in the logging program'
			]
		});
	}
});
