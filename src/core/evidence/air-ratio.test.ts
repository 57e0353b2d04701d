import { describe, expect, it } from 'vitest';
import { prepare } from './prepare.ts';
import { handMade, vehicleWith, type Shape } from '../testing/hand-made.ts';
import { modelOverMeter } from './air-ratio.ts';

const STEADY: Shape = () => 60;
const ratio = (shapes: Record<string, Shape>) =>
	modelOverMeter(
		prepare(handMade(20, 10, { rpm: () => 3000, map: STEADY, ...shapes }), {
			vehicle: vehicleWith(),
			calibrations: []
		})
	);

describe('the model over the meter', () => {
	it('is their ratio where the engine runs steadily', () => {
		const r = ratio({ maf: () => 50, airflowModel: () => 62 })!;
		expect(r[100]).toBeCloseTo(1.24, 3);
	});
	it('is unknown while the pressure moves, and where the meter hardly resolves the flow', () => {
		// 30 kPa in a second from 10 s on.
		const rising = ratio({
			maf: () => 50,
			airflowModel: () => 50,
			map: (t) => 60 + 30 * Math.max(0, t - 10)
		})!;
		expect(rising[50]).toBeCloseTo(1, 3);
		expect(rising[150]).toBeNaN();
		const small = ratio({ maf: (t) => (t < 10 ? 100 : 4), airflowModel: () => 50 })!;
		expect(small[50]).toBeCloseTo(0.5, 3);
		expect(small[150]).toBeNaN();
	});
	it('needs both', () => {
		expect(ratio({ maf: () => 50 })).toBeNull();
		expect(ratio({ airflowModel: () => 50 })).toBeNull();
	});
});
