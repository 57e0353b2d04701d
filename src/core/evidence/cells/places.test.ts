/** Means by place: what is certain of them, with noise that hangs together. */
import { describe, expect, it } from 'vitest';
import { Rng } from '../../stats/rng.ts';
import { certainly, gradePlace, placesOf, worstPlace, type PlaceInput } from './places.ts';

const LIMITS = { watch: 2, fix: 4, stop: 8 };
/** A few pulls from 2000 to 7000 rpm at 20 Hz, 6 s each; noise of AR(1) with ρ, standard deviation σ in all. */
function drive(of: (rpm: number) => number, { sigma = 1, rho = 0.9, pulls = 2, seed = 1 } = {}): PlaceInput {
	const rng = new Rng(seed);
	const n = pulls * 120;
	const rpm = new Float32Array(n);
	const value = new Float32Array(n);
	const timeS = new Float64Array(n);
	let e = 0;
	for (let i = 0; i < n; i++) {
		const k = i % 120;
		rpm[i] = 2000 + (5000 * k) / 120;
		timeS[i] = i / 20 + Math.floor(i / 120) * 30;
		e = k === 0 ? sigma * rng.normal() : rho * e + sigma * Math.sqrt(1 - rho * rho) * rng.normal();
		value[i] = of(rpm[i]!) + e;
	}
	return { rpm, value, band: new Uint8Array(n).fill(3), timeS, dtS: new Float64Array(n).fill(0.05) };
}

describe('means by place', () => {
	it('hold the truth within 95 % bounds, about as often as they say, with noise that hangs together', () => {
		let within = 0;
		let all = 0;
		for (let seed = 1; seed <= 60; seed++)
			for (const p of placesOf(drive(() => 0, { seed, pulls: 6 }))) {
				all++;
				if (Math.abs(p.mean) <= 1.96 * p.se) within++;
			}
		expect(within / all).toBeGreaterThan(0.88);
		expect(within / all).toBeLessThan(0.99);
	});
	it('call hardly a healthy place certain that is quiet on the whole', () => {
		let wrong = 0;
		let all = 0;
		for (let seed = 1; seed <= 60; seed++)
			for (const p of placesOf(drive(() => 0, { seed }))) {
				all++;
				if (gradePlace(p, LIMITS)) wrong++;
			}
		expect(wrong / all).toBeLessThan(0.01);
	});
	it('find what is off over 500 rpm alone, wherever its borders lie', () => {
		for (const from of [4000, 4130, 4250, 4400]) {
			const places = placesOf(drive((r) => (r >= from && r < from + 500 ? 9 : 0), { sigma: 0.6 }));
			const worst = worstPlace(places, LIMITS)!;
			expect(worst.place.mean).toBeGreaterThan(6);
			expect(['fix', 'stop']).toContain(worst.severity);
			expect(Math.abs(worst.place.rpm[0] - from)).toBeLessThanOrEqual(250);
		}
	});
	it('say nothing of what was hardly driven', () => {
		const d = drive(() => 9);
		const short = { ...d, value: d.value.map((v, i) => (i < 7 ? v : Number.NaN)) };
		expect(placesOf(short)).toEqual([]);
		expect(placesOf({ ...d, band: d.band.map(() => 255) })).toEqual([]);
	});
});

describe('severity of a place', () => {
	it.each<[number, number, string | null]>([
		[9, 0.1, 'stop'],
		[9, 1, 'fix'],
		[5, 1, 'watch'],
		[4.5, 2, 'watch'],
		[3, 0.2, 'watch'],
		[3, 1, null],
		[-9, 0.1, 'stop']
	])('%f ± %f: %s', (mean, se, severity) => {
		expect(gradePlace({ mean, se }, LIMITS)?.severity ?? null).toBe(severity);
	});
	it('is that of the bound nearer to zero', () => {
		expect(certainly({ mean: -5, se: 1 })).toBeCloseTo(-3.04, 6);
		expect(certainly({ mean: 1, se: 1 })).toBe(0);
	});
});
