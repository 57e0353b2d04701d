import { drive, expectWordsOfFacts, reportOn } from '../../testing/check-cases.ts';
import { logCoverage } from './log-coverage.ts';
import { describe, expect, it } from 'vitest';
import { parseRequest } from '../../request.ts';
import { findingOf, handMade, outcomeOf, pullShapes, vehicleWith } from '../../testing/hand-made.ts';
import { screen } from '../screen.ts';

/** A second pull twenty seconds after the first. */
const twice = Object.fromEntries(
	Object.entries(pullShapes()).map(([id, shape]): [string, (t: number) => number] => [
		id,
		(t) => shape(t < 25 ? t : t - 20)
	])
);

describe('log.coverage', () => {
	const asked = (manoeuvres: object[], log = drive()) =>
		screen(log, { vehicle: vehicleWith(), request: parseRequest({ schema: 'tanto.request/1', manoeuvres }) });
	it('is not checked without a drive plan', () => {
		expect(outcomeOf(reportOn(drive()), 'log.coverage')).toMatchObject({
			outcome: 'not-checked',
			missing: 'a drive plan'
		});
	});
	it('passes what was driven, and is to watch for what is missing', () => {
		expect(outcomeOf(asked([{ kind: 'pull' }, { kind: 'cruise' }]), 'log.coverage').outcome).toBe('pass');
		const f = findingOf(
			asked([
				{ kind: 'pull', count: 2 },
				{ kind: 'idle', minDurationS: 30 }
			]),
			'log.coverage'
		)!;
		expect(f.severity).toBe('watch');
		expect(f.summary).toContain('a full-throttle pull (1 of 2) and idle of 30 s');
	});
	it('no pull though one was asked for is to fix', () => {
		expect(
			findingOf(asked([{ kind: 'pull' }], handMade(30, 20, pullShapes(1000))), 'log.coverage')?.severity
		).toBe('fix');
	});
	it.each([
		['one pull where none was asked for', [{ kind: 'cruise' }], {}, {}, '1 full-throttle pull where none'],
		[
			'higher revs than asked',
			[{ kind: 'pull', rpm: [2500, 5000] }],
			{},
			{},
			'pulled to 6400 rpm where 5000'
		],
		[
			'more pressure than allowed',
			[{ kind: 'pull' }],
			{},
			{ mapMaxKpa: 150 },
			'170 kPa of manifold pressure where 150'
		],
		[
			'a pull after knock',
			[{ kind: 'pull', count: 2 }],
			{ ...twice, knockRetard: (t: number) => (t > 12 && t < 13 ? 4 : 0) },
			{},
			'1 pull after 4.0° of knock retard (at 30 s)'
		],
		[
			'a pull after misfires',
			[{ kind: 'pull', count: 2 }],
			{ ...twice, 'misfire.cyl2': (t: number) => (t > 12 ? 3 : 0) },
			{},
			'1 pull after misfires (at 30 s)'
		]
	] as const)(
		'%s is beyond the plan, with words for the customer',
		(_, manoeuvres, shapes, conditions, words) => {
			const log = handMade(60, 20, { ...pullShapes(), ...shapes });
			const request = parseRequest({ schema: 'tanto.request/1', manoeuvres, conditions });
			const found = screen(log, { vehicle: vehicleWith(), request }).findings.find(
				(f) => f.kind === 'beyond'
			);
			expect(found).toMatchObject({ code: 'log.coverage', severity: 'watch' });
			expect(found!.summary).toContain(words);
			expect(logCoverage.plain!(found!)).toContain('more than was asked for');
			expectWordsOfFacts(found!);
		}
	);
	it('what the plan asks for, and a problem driven as it comes, are not beyond it', () => {
		const beyond = (manoeuvres: object[]) => asked(manoeuvres).findings.some((f) => f.kind === 'beyond');
		expect(beyond([{ kind: 'pull', rpm: [2500, 6300] }])).toBe(false);
		expect(beyond([{ kind: 'pull', rpm: [2500, 5000] }, { kind: 'pull' }])).toBe(false);
		expect(beyond([{ kind: 'symptom' }])).toBe(false);
	});
	it('a pull that ends below the asked engine speed does not count', () => {
		expect(findingOf(asked([{ kind: 'pull', rpm: [2500, 6500] }]), 'log.coverage')).toBeUndefined();
		expect(findingOf(asked([{ kind: 'pull', rpm: [2500, 7000] }]), 'log.coverage')).toBeDefined();
	});
});
