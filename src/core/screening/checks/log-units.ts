/** `log.units`: units that the values contradict, and columns that two units fit. */
import { finding, found, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { fixed, list, uncapital } from '../../format.ts';

type Facts = {
	/** Columns whose values contradict their unit: what is written, and what their values make sense in. */
	wrong: string[];
	written: string[];
	read: string[];
	/** Columns without a unit, once for every unit that fits: the middle of their values read in it. */
	open: string[];
	openAs: string[];
	middle: number[];
	middleUnit: string[];
};

export const logUnits = check({
	code: 'log.units',
	title: 'Units',
	section: 'fit',
	advice: 'log',
	plain: (f) =>
		`A unit is not clear (${uncapital(f.title)}). Look it up in the logging program and tell your tuner.`,
	units: { middle: '' },
	run(input) {
		const { log } = input;
		const wrong = log.channels.filter((c) => c.contradiction !== null);
		if (log.channels.length === 0) return notChecked('no channel was recognised', 'rpm');
		// Road speed moves no judgement, and the sign of a knock channel is taken the careful way: both are only asked.
		const open = log.channels.filter(
			(c) => c.undecided !== null && c.id !== 'speed' && !c.id.startsWith('knockRetard')
		);
		if (wrong.length + open.length === 0)
			return pass('The values of every channel fit the unit that they are read in.');
		const readings = open.flatMap((c) => c.undecided!.readings.map((r) => ({ c, r })));
		return found(
			finding(input, {
				severity: wrong.length ? 'fix' : 'watch',
				facts: {
					wrong: wrong.map((c) => c.raw),
					written: wrong.map((c) => c.contradiction!.written),
					read: wrong.map((c) => c.contradiction!.read),
					open: readings.map(({ c }) => c.raw),
					openAs: readings.map(({ r }) => r.unit),
					middle: readings.map(({ r }) => r.median),
					middleUnit: readings.map(({ c }) => c.unit)
				},
				value: wrong.length + open.length,
				limit: 0,
				unit: 'channels',
				channels: [...wrong, ...open].map((c) => c.id)
			})
		);
	},
	words: ({ facts }: Told<Facts>) => {
		const { wrong, written, read, open, openAs, middle, middleUnit } = facts;
		const undecided = [...new Set(open)].map((raw) => ({
			raw,
			readings: open.flatMap((o, i) =>
				o === raw ? [`${fixed(middle[i]!, 0)} ${middleUnit[i]} read as ${openAs[i]}`] : []
			)
		}));
		return {
			title: `Unit in doubt: ${list([...wrong, ...undecided.map((u) => u.raw)])}`,
			summary: `${[
				...wrong.map((raw, i) => `"${raw}" says ${written[i]}, its values only make sense in ${read[i]}`),
				...undecided.map((u) => `"${u.raw}" has no unit: its middle is ${u.readings.join(' or ')}`)
			].join('; ')}.`,
			causes: [
				'the logging program writes one unit and exports another',
				'the column is not what its name says'
			],
			next: [
				'say on the page of the channels what the column really is',
				'ask the customer for the unit set in the logging program'
			]
		};
	}
});
