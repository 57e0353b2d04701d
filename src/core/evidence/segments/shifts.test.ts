import { describe, expect, it } from 'vitest';
import { gearChanges } from './shifts.ts';

/** Second gear up to 6100 rpm, the change over 0.3 s, then the next gear; the logged gear turns over `late` after the change began. */
function drive(rateHz: number, late: number, from: number, to: number, fall: number) {
	const n = 8 * rateHz;
	const t = Float64Array.from({ length: n }, (_, i) => i / rateHz);
	const rpm = Float32Array.from(t, (s) => {
		if (s < 4) return 3000 + (3100 * s) / 4;
		if (s < 4.3) return 6100 * (1 - (fall * (s - 4)) / 0.3);
		return 6100 * (1 - fall) + 300 * (s - 4.3);
	});
	const gear = Int8Array.from(t, (s) => (s < 4 + late ? from : to));
	return gearChanges(rpm, gear, null, t).map((c) => {
		let top = c.from;
		for (let i = c.from; i <= c.to; i++) if (rpm[i]! > rpm[top]!) top = i;
		return { gear: c.gear, to: c.toGear, rpm: rpm[top]! };
	});
}

describe('a gear change', () => {
	const rates = [5, 10, 20, 50, 100];
	const moments: [string, number][] = [
		['begins', 0],
		['is half over', 0.15],
		['ends', 0.3],
		['is over for a while', 0.5]
	];
	it.each(rates.flatMap((r) => moments.map(([what, late]) => [r, what, late] as const)))(
		'at %i Hz is found where the engine speed falls, with a gear that turns over when it %s',
		(rate, _, late) => {
			const [one, ...more] = drive(rate, late, 2, 3, 0.3);
			expect(more).toEqual([]);
			expect(one).toMatchObject({ gear: 2, to: 3 });
			// Within one sample's rise of where it was.
			expect(Math.abs(one!.rpm - 6100)).toBeLessThanOrEqual(775 / rate + 1);
		}
	);
	it('that skips a gear names the one that came; one of a close box is found, a mere flicker is not', () => {
		expect(drive(20, 0.1, 6, 8, 0.2)).toMatchObject([{ gear: 6, to: 8 }]);
		expect(drive(20, 0.1, 4, 5, 0.06)).toHaveLength(1);
		expect(drive(20, 0.1, 4, 5, 0.02)).toHaveLength(0);
	});
});
