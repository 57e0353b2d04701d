/** Words are made at the end, from facts alone: each check has them, and every number has its unit. */
import { describe, expect, it } from 'vitest';
import { expectWordsOfFacts } from '../testing/check-cases.ts';
import {
	at,
	handMade,
	inPull,
	perCylinder,
	pulled,
	pullShapes,
	reportOf,
	twoBanks
} from '../testing/hand-made.ts';
import { reportSchema } from './report.ts';
import { factsOf } from './types.ts';
import { wordsOf } from './words.ts';

/** A car with much the matter: the more findings the more there is to hold. */
const ill = reportOf(
	handMade(60, 20, {
		...pullShapes(),
		'lambda.b1': pulled(0.9, 1),
		'lambda.b2': pulled(0.95, 1),
		'lambda.target': pulled(0.8, 1),
		knockRetard: (t) => (t > 13 && t < 14 ? 4.2 : 0),
		...perCylinder('misfire', (c) => (t) => (c === 3 && t > 12 ? 4 : 0)),
		ect: at(119),
		vbat: (t) => (inPull(t) ? 11.2 : 14),
		syncErrors: (t) => (t > 12 ? 1 : 0),
		oilPressure: at(120)
	}),
	twoBanks()
);

describe('words', () => {
	it('come from what a stored report keeps, whatever the finding', () => {
		const codes = ill.findings.map((f) => f.code);
		expect(codes).toEqual(
			expect.arrayContaining(['fuel.lean', 'knock.unclear', 'misfire', 'temp.coolant', 'controller.state'])
		);
		for (const f of reportSchema.parse(JSON.parse(JSON.stringify(ill))).findings) expectWordsOfFacts(f);
	});
	it('a number among the facts has its unit', () => {
		const bare = ill.findings.flatMap((f) =>
			Object.entries(f.facts ?? {}).flatMap(([name, fact]) =>
				typeof fact.value === 'number' && !fact.unit ? [`${f.code}: ${name}`] : []
			)
		);
		expect(bare).toEqual([]);
	});
	it('facts are plain values for whoever asks for them', () => {
		const coolant = ill.findings.find((f) => f.code === 'temp.coolant')!;
		expect(factsOf(coolant)).toMatchObject({ what: 'hot', coolantC: 119 });
		expect(factsOf({})).toEqual({});
	});
	it('a code that nobody knows has none', () => {
		expect(() => wordsOf({ code: 'gone.away', severity: 'fix', channels: [] })).toThrow(/gone\.away/);
	});
});
