import { prepare } from '../../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { propose } from '../../revising/revise.ts';
import {
	at,
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	vehicleWith,
	calibrationWith
} from '../../testing/hand-made.ts';
import { screenPrepared } from '../screen.ts';

const made = (flow: number) =>
	calibrationWith(
		[
			{ id: 'injector.flow', kind: 'scalar', unit: 'cc/min', value: flow },
			{
				id: 'fuel.table',
				kind: 'map',
				x: { channel: 'rpm', points: [1000, 7000] },
				y: { channel: 'map', points: [20, 200] },
				values: [
					[80, 80],
					[80, 80]
				]
			}
		],
		{ name: `flow ${flow}` }
	);
const log = (ltft: number) =>
	handMade(90, 20, { ...pullShapes(40), 'ltft.b1': at(ltft), 'lambda.b1': at(1.04) });
const car = vehicleWith();

describe('trim.reset', () => {
	it('after other injector data a learned trim that is still there is found', () => {
		expect(findingOf(reportOf(log(7), car, [made(650), made(850)]), 'trim.reset')).toMatchObject({
			severity: 'fix',
			value: 7
		});
	});
	it('near zero it was reset', () => {
		expect(outcomeOf(reportOf(log(1), car, [made(650), made(850)]), 'trim.reset').outcome).toBe('pass');
	});
	it('nobody asked where the injectors are the same', () => {
		expect(outcomeOf(reportOf(log(7), car, [made(650), made(650)]), 'trim.reset').reason).toContain(
			'does not ask'
		);
	});
	it('nothing is proposed from such a log', () => {
		const input = prepare(log(7), { vehicle: car, calibrations: [made(650), made(850)] });
		const p = propose([{ input, findings: screenPrepared(input).findings }]);
		expect(p.changes).toEqual([]);
		expect(p.held[0]).toMatchObject({ code: 'trim.reset' });
	});
	it('a revision that holds what the learned trims held asks for it as well', () => {
		const asked = (ltft: number, resetTrims: boolean) =>
			screenPrepared(
				prepare(log(ltft), { vehicle: car, calibrations: [made(650), made(650)], resetTrims })
			).findings.find((f) => f.code === 'trim.reset');
		expect(asked(7, true)?.summary).toContain('holds what the learned trims held');
		expect(asked(1, true)).toBeUndefined();
		expect(asked(7, false)).toBeUndefined();
	});
});
