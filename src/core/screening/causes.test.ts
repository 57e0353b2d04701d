/** One cause, one finding: who steps back behind whom, and who never does. */
import { describe, expect, it } from 'vitest';
import { profileOf } from '../limits/profile.ts';
import { settleCauses } from './causes.ts';
import { CODES, type CheckCode } from './codes.ts';
import { findingKey, type Severity, type Wordless } from './types.ts';

const profile = profileOf();
const of = (code: CheckCode, severity: Severity, more: Partial<Wordless> = {}): Wordless => ({
	code,
	severity,
	channels: [],
	...more
});
const settled = (...findings: Wordless[]) => settleCauses(findings, profile);
const severities = (list: readonly Wordless[]) => list.map((f) => f.severity);

describe('a finding that another one explains', () => {
	it('steps back to a note that names it, in its own words', () => {
		const cause = of('inj.duty', 'fix');
		const [duty, reserve] = settled(cause, of('inj.reserve', 'stop'));
		expect(duty).toEqual(cause);
		expect(reserve).toMatchObject({
			severity: 'note',
			because: findingKey(cause)
		});
	});
	it('makes its cause as dangerous as itself where they are one fault', () => {
		const pressure = of('supply.pressure', 'watch', { ranges: [{ from: 10, to: 14 }] });
		const lean = of('fuel.lean', 'stop', { value: 9, ranges: [{ from: 11, to: 13 }] });
		expect(severities(settled(pressure, lean))).toEqual(['stop', 'note']);
	});
	it('stays where the cause is a mere note', () => {
		expect(severities(settled(of('inj.duty', 'note'), of('inj.reserve', 'fix')))).toEqual(['note', 'fix']);
	});
	it('stays where it happened at another time', () => {
		const pressure = of('supply.pressure', 'fix', { ranges: [{ from: 10, to: 14 }] });
		const later = of('fuel.lean', 'fix', { value: 6, ranges: [{ from: 40, to: 44 }] });
		expect(severities(settled(pressure, later))).toEqual(['fix', 'fix']);
	});
	it('a rich mixture is not explained by fuel that does not arrive', () => {
		const pressure = of('supply.pressure', 'fix');
		expect(severities(settled(pressure, of('trim.limit', 'fix', { value: -12 })))).toEqual(['fix', 'fix']);
		expect(severities(settled(pressure, of('trim.limit', 'fix', { value: 12 })))).toEqual(['fix', 'note']);
	});
});

describe('a sensor that is not to be believed', () => {
	const sensor = of('log.sensor', 'fix', { channels: ['lambda.b1'] });
	it('takes what was read from it along', () => {
		expect(
			severities(settled(sensor, of('fuel.lean', 'stop', { value: 9, channels: ['lambda.b1', 'rpm'] })))
		).toEqual(['fix', 'note']);
	});
	it('and nothing that was read from another one, or only shares the engine speed', () => {
		expect(
			severities(settled(sensor, of('fuel.lean', 'stop', { value: 9, channels: ['lambda.b2', 'rpm'] })))
		).toEqual(['fix', 'stop']);
		const crank = of('log.sensor', 'fix', { channels: ['rpm'] });
		expect(
			severities(settled(crank, of('fuel.lean', 'stop', { value: 9, channels: ['lambda.b2', 'rpm'] })))
		).toEqual(['fix', 'stop']);
	});
});

describe('a difference of the banks', () => {
	const banks = of('bank.mismatch', 'fix', { value: 6, bank: 2 });
	it('explains the lean bank, and only as far as it reaches', () => {
		expect(severities(settled(banks, of('fuel.lean', 'stop', { value: 7, bank: 2 })))).toEqual([
			'stop',
			'note'
		]);
		expect(severities(settled(banks, of('fuel.lean', 'stop', { value: 12, bank: 2 })))).toEqual([
			'fix',
			'stop'
		]);
	});
	it('not the other bank’s leanness, nor both banks lean', () => {
		expect(severities(settled(banks, of('fuel.lean', 'fix', { value: 5, bank: 1 })))).toEqual(['fix', 'fix']);
		expect(
			severities(
				settled(
					banks,
					of('fuel.lean', 'fix', { value: 5, bank: 1 }),
					of('fuel.lean', 'fix', { value: 6, bank: 2 })
				)
			)
		).toEqual(['fix', 'fix', 'fix']);
	});
	it('is itself explained by one lean cylinder, by half of what that one is off', () => {
		const cylinder = of('cyl.lambda', 'fix', { value: 12, cylinder: 4 });
		expect(severities(settled(banks, cylinder))).toEqual(['note', 'fix']);
		expect(severities(settled(banks, of('cyl.lambda', 'fix', { value: 6, cylinder: 4 })))).toEqual([
			'fix',
			'fix'
		]);
	});
	it('explains nothing more once it stepped back itself', () => {
		const cylinder = of('cyl.lambda', 'fix', { value: 12, cylinder: 4 });
		const lean = of('fuel.lean', 'fix', { value: 6, bank: 2 });
		expect(severities(settled(banks, lean, cylinder))).toEqual(['note', 'fix', 'fix']);
	});
});

describe('knock of one cylinder alone', () => {
	const alone = of('cyl.knock', 'fix', { value: 3, cylinder: 2, ranges: [{ from: 10, to: 12 }] });
	it('is a matter of that cylinder', () => {
		const knock = of('knock.real', 'fix', { value: 3, ranges: [{ from: 11, to: 12 }] });
		expect(settled(alone, knock)[1]).toMatchObject({ severity: 'note', because: 'cyl.knock c2' });
	});
	it('up to the retard that stops a job whatever it is', () => {
		const much = of('knock.real', 'stop', { value: profile.knockStopDeg, ranges: [{ from: 11, to: 12 }] });
		expect(severities(settled(alone, much))).toEqual(['fix', 'stop']);
	});
	it('and not where it knocked at another time', () => {
		const other = of('knock.unclear', 'fix', { value: 3, ranges: [{ from: 50, to: 51 }] });
		expect(severities(settled(alone, other))).toEqual(['fix', 'fix']);
	});
});

it('no finding is lost or made, whatever is raised together', () => {
	const all = CODES.map((code) => of(code, 'fix', { value: 5, bank: 1 }));
	const after = settled(...all);
	expect(after.map((f) => f.code)).toEqual(all.map((f) => f.code));
	for (const f of after) if (f.because) expect(after.some((c) => findingKey(c) === f.because)).toBe(true);
	expect(after.filter((f) => f.because).every((f) => f.severity === 'note')).toBe(true);
	expect(after.some((f) => f.because)).toBe(true);
});
