/** Which lanes answer which question, and which channels a lane holds. */

export interface Group {
	title: string;
	unit: string;
	ids: string[];
	dashed?: string[];
	minSpan: number;
	floor?: number;
	ceiling?: number;
}

export const GROUPS: Record<string, Group> = {
	rpm: { title: 'Engine speed', unit: 'rpm', ids: ['rpm'], minSpan: 500 },
	load: {
		title: 'Pressure',
		unit: 'kPa abs',
		ids: ['map', 'boostTarget'],
		dashed: ['boostTarget'],
		minSpan: 20
	},
	throttle: {
		title: 'Throttle',
		unit: '%',
		ids: ['tps', 'pedal'],
		dashed: ['pedal'],
		minSpan: 100,
		floor: 0
	},
	mixture: {
		title: 'Mixture',
		unit: 'λ',
		ids: ['lambda.b1', 'lambda.b2', 'lambda.ref', 'lambda.target'],
		dashed: ['lambda.target'],
		minSpan: 0.08,
		// Nobody judges a mixture leaner than this: it is overrun, where no fuel is given.
		ceiling: 1.12
	},
	trims: {
		title: 'Trims',
		unit: '%',
		ids: ['stft.b1', 'stft.b2', 'ltft.b1', 'ltft.b2'],
		dashed: ['ltft.b1', 'ltft.b2'],
		minSpan: 10
	},
	knock: { title: 'Knock retard', unit: '°', ids: ['knockRetard', 'knockAdvance'], minSpan: 3, floor: 0 },
	spark: { title: 'Timing', unit: '°', ids: ['spark', 'sparkBase'], dashed: ['sparkBase'], minSpan: 5 },
	supply: { title: 'Injection', unit: 'ms', ids: ['pw.b1', 'pw.b2'], minSpan: 2 },
	air: { title: 'Air flow', unit: 'g/s', ids: ['maf', 'airflowModel'], minSpan: 10 },
	heat: { title: 'Temperatures', unit: '°C', ids: ['iat', 'ect'], minSpan: 10 }
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
