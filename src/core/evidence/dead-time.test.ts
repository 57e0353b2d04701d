import { expect, it } from 'vitest';
import { vehicleWith } from '../testing/hand-made.ts';
import { deadTimeMs, RUNNING_V } from './dead-time.ts';

const stated = vehicleWith(
	{},
	{
		injectors: {
			deadTimeMs: [
				[10, 1.8],
				[12, 1.2],
				[14, 0.9]
			]
		}
	}
);

it.each([
	[12, 1.2],
	[13, 1.05],
	[8, 1.8],
	[16, 0.9]
])('at %s V the pulse loses %s ms; beyond the ends the ends hold', (volts, ms) => {
	expect(deadTimeMs(stated, volts)).toBeCloseTo(ms, 9);
});
it('a running engine stands in where no supply is logged, and nothing is lost where nothing is stated', () => {
	expect(deadTimeMs(stated)).toBe(deadTimeMs(stated, RUNNING_V));
	expect(deadTimeMs(vehicleWith())).toBe(0);
});
