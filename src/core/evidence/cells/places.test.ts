/** Means by place: what is certain of them, with noise that hangs together. */
import { describe, expect, it } from 'vitest';
import { Rng } from '../../stats/rng.ts';
import { certainly, placesOf, type PlaceInput } from './places.ts';

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
				if (Math.abs(certainly(p)) > 2) wrong++;
			}
		expect(wrong / all).toBeLessThan(0.01);
	});
	it('find what is off over 500 rpm alone, wherever its borders lie', () => {
		for (const from of [4000, 4130, 4250, 4400]) {
			const places = placesOf(drive((r) => (r >= from && r < from + 500 ? 9 : 0), { sigma: 0.6 }));
			const worst = places.reduce((a, b) => (certainly(b) > certainly(a) ? b : a));
			expect(worst.mean).toBeGreaterThan(6);
			expect(certainly(worst)).toBeGreaterThan(4);
			expect(Math.abs(worst.rpm[0] - from)).toBeLessThanOrEqual(250);
		}
	});
	it('say nothing of what was hardly driven', () => {
		const d = drive(() => 9);
		const short = { ...d, value: d.value.map((v, i) => (i < 7 ? v : Number.NaN)) };
		expect(placesOf(short)).toEqual([]);
		expect(placesOf({ ...d, band: d.band.map(() => 255) })).toEqual([]);
	});
});

describe('what is certain of a place', () => {
	it('is that of the bound nearer to zero', () => {
		expect(certainly({ mean: -5, se: 1 })).toBeCloseTo(-3.04, 6);
		expect(certainly({ mean: 1, se: 1 })).toBe(0);
	});
});
