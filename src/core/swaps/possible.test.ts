import { describe, expect, it } from 'vitest';
import { possibleSwaps, refuseImpossibleSwap } from './possible.ts';

const engine = (banks: 1 | 2, cylinders = 8) =>
	({ cylinders, layout: banks === 2 ? 'v' : 'inline' }) as never;
const lambda = (...sites: string[]) => ({
	lambda: sites.map((site, i) => ({ channel: `lambda.b${i + 1}`, kind: 'controller', site }))
});

describe('swap tests that a vehicle has the parts for', () => {
	it('an engine of one bank has nothing to swap from side to side', () => {
		expect(possibleSwaps({ engine: engine(1, 4) })).toEqual(['between-cylinders', 'repair']);
		expect(possibleSwaps({ engine: engine(1, 1) })).toEqual(['repair']);
	});
	it('one sensor can be moved, two can change places; a sheet without sensors rules nothing out', () => {
		const one = possibleSwaps({ engine: engine(2), sensors: lambda('bank1') as never });
		expect(one).toContain('lambda-moved');
		expect(one).not.toContain('lambda-side-to-side');
		expect(possibleSwaps({ engine: engine(2), sensors: lambda('bank1', 'bank2') as never })).toContain(
			'lambda-side-to-side'
		);
		expect(possibleSwaps({ engine: engine(2) })).toHaveLength(5);
	});
	it('refuses a test of parts that are not there, by its name', () => {
		expect(() => refuseImpossibleSwap('injectors-side-to-side', { engine: engine(1) })).toThrow(/one bank/);
		expect(() =>
			refuseImpossibleSwap('lambda-side-to-side', { engine: engine(2), sensors: lambda('bank1') as never })
		).toThrow(/one lambda sensor/);
		expect(() => refuseImpossibleSwap('repair', { engine: engine(1) })).not.toThrow();
	});
});
