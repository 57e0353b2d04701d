/** What a trainee can say of a log, in plain words, and the checks that say the same. */

export interface Subject {
	id: SubjectId;
	/** As a tuner would say it. */
	title: string;
	/** Codes of findings that mean it. */
	codes: readonly string[];
	/** Whether it is of a bank or of a cylinder. */
	whom: 'bank' | 'cylinder' | null;
	/** What happens to the engine, or the job, when it is overlooked. */
	cost: string;
}

const SUBJECTS_BY_ID = {
	bank: {
		title: 'One bank is leaner than the other',
		codes: ['bank.mismatch'],
		whom: 'bank',
		cost: 'fuel taken out on the word of the richer bank would have burnt the leaner one down'
	},
	cylinder: {
		title: 'One cylinder is leaner than the others',
		codes: ['cyl.lambda', 'cyl.knock'],
		whom: 'cylinder',
		cost: 'the collector shows the mean: the lean cylinder holes its piston under a good lambda'
	},
	dead: {
		title: 'A cylinder doesn’t burn',
		codes: ['misfire.suspected', 'misfire'],
		whom: 'cylinder',
		cost: 'its air reads lean: fuel added for it would have washed the others down'
	},
	lean: {
		title: 'The mixture is lean under load',
		codes: ['fuel.lean'],
		whom: null,
		cost: 'a lean engine under boost melts'
	},
	rich: {
		title: 'The mixture is rich under load',
		codes: ['fuel.rich'],
		whom: null,
		cost: 'power lost and oil washed thin'
	},
	sensor: {
		title: 'A lambda sensor isn’t right',
		codes: ['sensor.lambda'],
		whom: null,
		cost: 'fuel taken out on its word leaves the engine lean where it looked rich'
	},
	knock: {
		title: 'It knocks, and it is real',
		codes: ['knock.real', 'knock.unclear', 'knock.missed'],
		whom: null,
		cost: 'knock that goes on breaks ring lands'
	},
	noise: {
		title: 'It looks like knock, and is noise',
		codes: ['knock.blips', 'knock.monitor'],
		whom: null,
		cost: 'timing taken out for nothing: a slow, hot engine'
	},
	injectors: {
		title: 'The injectors are near their end',
		codes: ['inj.duty', 'inj.reserve'],
		whom: null,
		cost: 'on the first cold morning they hang open, and the mixture goes lean at the top'
	},
	supply: {
		title: 'Fuel pressure falls under load',
		codes: ['supply.pressure'],
		whom: null,
		cost: 'the table is made richer for a pump that goes on dying'
	},
	boost: {
		title: 'Boost stays short of its set point',
		codes: ['boost.under'],
		whom: null,
		cost: 'a leak is tuned round, and comes back as overboost when it is mended'
	},
	file: {
		title: 'Another file is in the car',
		codes: ['log.revision'],
		whom: null,
		cost: 'all that was learnt from this log is of a file that nobody meant'
	},
	voltage: {
		title: 'The supply voltage is low',
		codes: ['volt.supply'],
		whom: null,
		cost: 'dead times grow, and the table is corrected for a bad alternator'
	}
} as const satisfies Record<string, Omit<Subject, 'id'>>;

export type SubjectId = keyof typeof SUBJECTS_BY_ID;
export const SUBJECT_IDS = Object.keys(SUBJECTS_BY_ID) as SubjectId[];
export const SUBJECTS: readonly Subject[] = SUBJECT_IDS.map((id) => ({ id, ...SUBJECTS_BY_ID[id] }));
export const subjectOf = (id: SubjectId): Subject => ({ id, ...SUBJECTS_BY_ID[id] });

/** Subjects that findings speak of, each once, in the order of the findings. */
export function subjectsIn(findings: readonly { code: string; severity: string }[]): SubjectId[] {
	const out = findings
		// A quiet monitor beside retard is a note, and what says that it is noise.
		.filter((f) => f.severity !== 'note' || f.code === 'knock.monitor')
		.flatMap((f) => SUBJECTS.find((s) => s.codes.includes(f.code))?.id ?? []);
	return [...new Set(out)];
}
