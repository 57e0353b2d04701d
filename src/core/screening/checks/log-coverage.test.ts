import { drive, reportOn } from '../../testing/check-cases.ts';
import { describe, expect, it } from 'vitest';
import { parseRequest } from '../../request.ts';
import { findingOf, handMade, outcomeOf, pullShapes, vehicleWith } from '../../testing/hand-made.ts';
import { screen } from '../screen.ts';

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
	it('a pull that ends below the asked engine speed does not count', () => {
		expect(findingOf(asked([{ kind: 'pull', rpm: [2500, 6500] }]), 'log.coverage')).toBeUndefined();
		expect(findingOf(asked([{ kind: 'pull', rpm: [2500, 7000] }]), 'log.coverage')).toBeDefined();
	});
});
