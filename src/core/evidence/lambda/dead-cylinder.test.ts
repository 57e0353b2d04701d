/** A cylinder that doesn't burn, on made-up pulls: its step of the mixture through a sensor's filter, its share of the pull. */
import { describe, expect, it } from 'vitest';
import { prepare } from '../prepare.ts';
import { handMade, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { Rng } from '../../stats/rng.ts';

interface Trial {
	cylinders: number;
	filterS?: number;
	/** Share of the pull that is lost and step of the mixture while it is off; by default what one cylinder makes. */
	lost?: number;
	lean?: number;
	seed?: number;
}
/** Three pulls in one gear; in the second, between 3500 and 4600 rpm, something is wrong. */
function trial({ cylinders, filterS = 0.1, lost = 1 / cylinders, lean, seed = 1 }: Trial) {
	const rng = new Rng(seed);
	const banks = cylinders >= 6;
	const ofBank = banks ? cylinders / 2 : cylinders;
	const step = lean ?? 1 / (ofBank - 1);
	const rate = 20;
	const n = 60 * rate;
	const rpm = new Float64Array(n).fill(2500);
	const lambda = new Float64Array(n).fill(1);
	const off = (r: number, pull: number) => pull === 1 && r > 3500 && r < 4600;
	let y = 1;
	for (let i = 0; i < n; i++) {
		const t = i / rate;
		const pull = Math.floor((t - 10) / 15);
		const within = t - 10 - pull * 15;
		const flat = t >= 10 && pull <= 2 && within < 6;
		if (flat && within > 0) {
			const before = rpm[i - 1]!;
			// 700 rpm a second low down, half of that at the top, and a little wind.
			const drive = 900 * (1 - (before - 2500) / 9000) * (1 + 0.01 * rng.normal());
			rpm[i] = before + (drive * (off(before, pull) ? 1 - lost : 1)) / rate;
		}
		const target = flat && within > 0.5 ? 0.8 : 1;
		const gas = target * (off(rpm[i]!, pull) && flat ? 1 + step : 1);
		y += (gas - y) * (1 - Math.exp(-1 / rate / filterS));
		lambda[i] = y * (1 + 0.003 * rng.normal());
	}
	const at =
		(list: Float64Array): Shape =>
		(t) =>
			list[Math.min(n - 1, Math.round(t * rate))]!;
	const flat = (t: number) => t >= 10 && t < 55 && (t - 10) % 15 < 6;
	const log = handMade(60, rate, {
		rpm: at(rpm),
		map: (t) => (flat(t) ? 170 : 45),
		baro: () => 100,
		tps: (t) => (flat(t) ? 100 : 15),
		gear: () => 3,
		speed: (t) => at(rpm)(t) / 40,
		ect: () => 88,
		iat: () => 30,
		'lambda.target': (t) => (flat(t) && (t - 10) % 15 > 0.5 ? 0.8 : 1),
		'lambda.b1': at(lambda),
		...(banks ? { 'lambda.b2': (t: number) => (flat(t) && (t - 10) % 15 > 0.5 ? 0.8 : 1) } : {})
	});
	const vehicle = vehicleWith({
		cylinders,
		aspiration: 'turbo',
		...(banks
			? {
					layout: 'v' as const,
					banks: [0, 1].map((b) => Array.from({ length: cylinders / 2 }, (_, k) => 2 * k + 1 + b))
				}
			: {})
	});
	return prepare(log, { vehicle }).suspected.dead;
}

describe('a dead cylinder', () => {
	it.each([4, 6, 8, 10].flatMap((c) => [0.05, 0.1, 0.25].map((f) => [c, f] as const)))(
		'of %i is found, through a filter of %f s',
		(cylinders, filterS) => {
			const dead = trial({ cylinders, filterS });
			expect(dead.length).toBeGreaterThanOrEqual(1);
			expect(dead[0]!.lostShare * cylinders).toBeGreaterThan(0.6);
			expect(dead[0]!.lostShare * cylinders).toBeLessThan(1.5);
		}
	);
	it('is none where the engine is as lean and pulls as well as ever: that is a lean mixture', () => {
		for (const cylinders of [4, 6, 8]) expect(trial({ cylinders, lost: 0.01 })).toEqual([]);
	});
	it('is none where the pull is weak and the mixture stays', () => {
		expect(trial({ cylinders: 4, lean: 0 })).toEqual([]);
		expect(trial({ cylinders: 8, lean: 0.005 })).toEqual([]);
	});
	it('is none in healthy pulls', () => {
		for (let seed = 1; seed <= 12; seed++)
			expect(trial({ cylinders: 8, lean: 0, lost: 0, seed })).toEqual([]);
	});
});
