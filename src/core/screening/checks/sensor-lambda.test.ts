import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	outcomeOf,
	pulled,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';
import type { Vehicle } from '../../vehicle/document.ts';

describe('sensor.lambda', () => {
	const two = (more: object[] = []) =>
		vehicleWith(
			{},
			{
				sensors: {
					lambda: [
						{ channel: 'lambda.b1', kind: 'factory', site: 'bank1' },
						{ channel: 'lambda.ref', kind: 'independent', site: 'bank1' },
						...more
					]
				}
			}
		);
	const three = two([{ channel: 'lambda.ref2', kind: 'independent', site: 'collector' }]);
	const target = { 'lambda.target': pulled(12.6 / 14.7, 1) };
	const report = (shapes: Record<string, Shape>, vehicle: Vehicle) =>
		reportOf(handMade(60, 20, { ...pullShapes(), ...target, ...shapes }), vehicle);
	const at147 = (afr: number) => pulled(afr / 14.7, 1);
	it.each([
		[0.975, undefined],
		[0.965, 'watch'],
		[0.94, 'fix'],
		[0.91, 'stop']
	])('factory at × %f of the instrument: %s', (share, severity) => {
		const r = report({ 'lambda.ref': at147(12.6), 'lambda.b1': at147(12.6 * share) }, two());
		expect(findingOf(r, 'sensor.lambda')?.severity).toBe(severity);
	});
	it('11.1 against 12.5 and 12.7 from two others: the odd one is named, the others are believed (common practice)', () => {
		const r = report(
			{ 'lambda.b1': at147(11.1), 'lambda.ref': at147(12.5), 'lambda.ref2': at147(12.7) },
			three
		);
		const f = findingOf(r, 'sensor.lambda')!;
		expect(f.severity).toBe('stop');
		expect(f.title).toContain("The controller's lambda reads rich");
		expect(f.value).toBeLessThan(-10);
		// What two agree on is on target: nothing else is raised.
		expect(
			r.findings.filter((x) => x.severity === 'stop' || x.severity === 'fix').map((x) => x.code)
		).toEqual(['sensor.lambda']);
	});
	it('with two that differ nobody is named, and the leaner is believed', () => {
		const r = report({ 'lambda.b1': at147(11.1), 'lambda.ref': at147(12.6) }, two());
		expect(findingOf(r, 'sensor.lambda')!.summary).toContain('the leaner is believed');
		expect(findingOf(r, 'fuel.rich')).toBeUndefined();
	});
	it('one kind of source is no comparison', () => {
		const r = report({}, vehicleWith());
		expect(outcomeOf(r, 'sensor.lambda').outcome).toBe('not-checked');
	});
});
