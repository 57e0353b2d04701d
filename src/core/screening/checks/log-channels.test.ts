import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';

const RATE = 20;
const drive = (shapes: Record<string, Shape>, seconds = 30, rate = RATE) => handMade(seconds, rate, shapes);

describe('log.channels', () => {
	it('passes when engine speed, load, lambda, throttle, knock and coolant are there', () => {
		expect(outcomeOf(reportOf(drive(pullShapes()), vehicleWith()), 'log.channels').outcome).toBe('pass');
	});
	it('is to fix without a lambda, to watch without coolant, and is one finding for all', () => {
		const { ['lambda.b1']: _l, knockRetard: _k, ...rest } = pullShapes();
		const without = reportOf(drive(rest), vehicleWith());
		expect(without.findings.filter((f) => f.code === 'log.channels')).toHaveLength(1);
		expect(findingOf(without, 'log.channels')).toMatchObject({ severity: 'fix', value: 2 });
		const { ect: _e, ...cold } = pullShapes();
		expect(findingOf(reportOf(drive(cold), vehicleWith()), 'log.channels')?.severity).toBe('watch');
	});
});
