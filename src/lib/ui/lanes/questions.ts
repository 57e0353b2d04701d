/** Which lanes answer which question, and which channels a lane holds. */

export interface Group {
	title: string;
	unit: string;
	ids: string[];
	/** What a line is called within its lane, by channel; its title without. */
	names?: Record<string, string>;
	dashed?: string[];
	minSpan: number;
	floor?: number;
	ceiling?: number;
}

export const GROUPS: Record<string, Group> = {
	rpm: { title: 'Engine speed', unit: 'rpm', ids: ['rpm'], names: { rpm: 'speed' }, minSpan: 500 },
	load: {
		title: 'Pressure',
		unit: 'kPa abs',
		ids: ['map', 'boostTarget'],
		names: { map: 'manifold', boostTarget: 'set point' },
		dashed: ['boostTarget'],
		minSpan: 20
	},
	throttle: {
		title: 'Throttle',
		unit: '%',
		ids: ['tps', 'pedal'],
		names: { tps: 'opening', pedal: 'pedal' },
		dashed: ['pedal'],
		minSpan: 100,
		floor: 0
	},
	mixture: {
		title: 'Mixture',
		unit: 'λ',
		ids: ['lambda.b1', 'lambda.b2', 'lambda.ref', 'lambda.target'],
		names: {
			'lambda.b1': 'bank 1',
			'lambda.b2': 'bank 2',
			'lambda.ref': 'reference',
			'lambda.target': 'target'
		},
		dashed: ['lambda.target'],
		minSpan: 0.08,
		// Nobody judges a mixture leaner than this: it is overrun, where no fuel is given.
		ceiling: 1.12
	},
	trims: {
		title: 'Trims',
		unit: '%',
		ids: ['stft.b1', 'stft.b2', 'ltft.b1', 'ltft.b2'],
		names: {
			'stft.b1': 'loop, 1',
			'stft.b2': 'loop, 2',
			'ltft.b1': 'learned, 1',
			'ltft.b2': 'learned, 2'
		},
		dashed: ['ltft.b1', 'ltft.b2'],
		minSpan: 10
	},
	knock: {
		title: 'Knock retard',
		unit: '°',
		ids: ['knockRetard', 'knockAdvance'],
		names: { knockRetard: 'pulled', knockAdvance: 'added' },
		minSpan: 3,
		floor: 0
	},
	spark: {
		title: 'Timing',
		unit: '°',
		ids: ['spark', 'sparkBase'],
		names: { spark: 'final', sparkBase: 'base' },
		dashed: ['sparkBase'],
		minSpan: 5
	},
	supply: {
		title: 'Injection',
		unit: 'ms',
		ids: ['pw.b1', 'pw.b2'],
		names: { 'pw.b1': 'bank 1', 'pw.b2': 'bank 2' },
		minSpan: 2
	},
	air: {
		title: 'Air flow',
		unit: 'g/s',
		ids: ['maf', 'airflowModel'],
		names: { maf: 'measured', airflowModel: 'modelled' },
		minSpan: 10
	},
	heat: {
		title: 'Temperatures',
		unit: '°C',
		ids: ['iat', 'ect'],
		names: { iat: 'intake', ect: 'coolant' },
		minSpan: 10
	}
};
export const QUESTIONS: Record<string, { title: string; groups: string[] }> = {
	mixture: { title: 'Mixture', groups: ['rpm', 'load', 'mixture', 'trims'] },
	knock: { title: 'Knock', groups: ['rpm', 'load', 'knock', 'spark'] },
	supply: { title: 'Supply', groups: ['rpm', 'load', 'supply', 'mixture'] },
	air: { title: 'Air', groups: ['rpm', 'throttle', 'load', 'air', 'heat'] }
};

/** Buckets of minimum and maximum that a window is drawn from: about one for two or three pixels. */
export const TRACE_POINTS = 400;

/** Channels of a question that a log has. */
export function channelsOf(question: string, have: ReadonlySet<string>): string[] {
	return (QUESTIONS[question]?.groups ?? []).flatMap((g) => GROUPS[g]!.ids.filter((id) => have.has(id)));
}
