import { describe, expect, it } from 'vitest';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { wrongController } from './attachments.ts';

describe('closed files', () => {
	const vehicle = vehicleWith({}, { controller: { hardware: 'Lumen C4', software: 'C4-1' } });
	it('for another controller are refused, for this one or an unknown one not', () => {
		expect(wrongController(vehicle, 'Lumen C4', 'C4-2')).toContain('the vehicle has "C4-1"');
		expect(wrongController(vehicle, 'Lumen C5', 'C4-1')).toContain('hardware');
		expect(wrongController(vehicle, ' Lumen C4 ', 'C4-1')).toBeNull();
		expect(wrongController(vehicleWith(), 'anything', 'x')).toBeNull();
	});
});
