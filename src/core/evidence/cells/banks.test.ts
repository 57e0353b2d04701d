import { describe, expect, it } from 'vitest';
import { bankDifferences, BANDS, type BankInput } from './banks.ts';

const AXES = { x: [1000, 2000, 3000], y: [50, 100], xChannel: 'rpm', yChannel: 'map' } as BankInput['axes'];

/** Samples as [rpm, kPa, band, k of bank 1, k of bank 2], a tenth of a second each. */
function differences(samples: [number, number, number, number, number][], minSamples = 5) {
	const column = (n: number) => Float32Array.from(samples, (s) => s[n]!);
	return bankDifferences({
		axes: AXES,
		x: column(0),
		y: column(1),
		k1: column(3),
		k2: column(4),
		band: Uint8Array.from(samples, (s) => s[2]),
		dtS: Float64Array.from(samples, () => 0.1),
		minSamples
	});
}
const many = (n: number, ...s: [number, number, number, number, number]) =>
	Array.from({ length: n }, () => s);
const band = (all: ReturnType<typeof differences>, name: (typeof BANDS)[number]) =>
	all.find((b) => b.band === name)!;

describe('bank against bank', () => {
	it('positive is bank 2 leaner, cell by cell', () => {
		const loaded = band(differences(many(10, 3000, 100, 3, 1, 1.05)), 'loaded');
		expect(loaded.signedPct).toBeCloseTo(5, 3);
		expect(loaded.cells).toHaveLength(1);
		expect(loaded.cells[0]).toMatchObject({ cell: 5, samples: 10 });
		expect(loaded.cells[0]!.seconds).toBeCloseTo(1, 6);
	});
	it('cells are weighted by their time, and differences of opposite sign don’t hide each other', () => {
		const light = band(
			differences([...many(30, 1000, 50, 1, 1, 1.04), ...many(10, 2000, 50, 1, 1, 0.96)]),
			'light'
		);
		expect(light.absolutePct).toBeCloseTo(4, 3);
		expect(light.signedPct).toBeCloseTo(2, 3);
	});
	it('a cell with too few samples is none', () => {
		const idle = band(
			differences([...many(4, 1000, 50, 0, 1, 1.5), ...many(20, 2000, 50, 0, 1, 1.01)]),
			'idle'
		);
		expect(idle.cells.map((c) => c.cell)).toEqual([1]);
		expect(idle.absolutePct).toBeCloseTo(1, 3);
	});
	it('bands stand apart, and what belongs to none counts nowhere', () => {
		const all = differences([...many(20, 1000, 50, 0, 1, 1.02), ...many(20, 1000, 50, 255, 1, 2)]);
		expect(band(all, 'idle').signedPct).toBeCloseTo(2, 3);
		expect(band(all, 'medium').samples).toBe(0);
		expect(band(all, 'medium').absolutePct).toBeNaN();
	});
	it('the standard error is that of the scatter', () => {
		const scattered = Array.from({ length: 400 }, (_, i): [number, number, number, number, number] => [
			3000,
			100,
			3,
			1,
			1 + 0.02 * (i % 2 ? 1 : -1)
		]);
		const loaded = band(differences(scattered), 'loaded');
		expect(loaded.signedPct).toBeCloseTo(0, 3);
		// ± 2 % over 400 samples.
		expect(loaded.sePct).toBeGreaterThan(0.05);
		expect(loaded.sePct).toBeLessThan(0.5);
	});
});
