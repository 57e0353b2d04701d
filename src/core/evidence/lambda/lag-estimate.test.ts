import { describe, expect, it } from 'vitest';
import { aligned, defaultLagS } from './lag.ts';
import { estimateLag, lagSAt, mixtureSteps } from './lag-estimate.ts';

/** A repeatable scatter between −1 and 1. */
const scatter = (i: number) => ((i * 7919) % 1000) / 500 - 1;

interface Made {
	rateHz?: number;
	/** True lag as a factor on the default curve. */
	factor?: number;
	noise?: number;
	stepsEveryS?: number;
	stepShare?: number;
	cuts?: boolean;
	goalKnown?: boolean;
}

/** Two minutes of a target that steps (or fuel that is cut), answered late; the flow wanders between 0.1 and 0.7. */
function made(m: Made) {
	const { rateHz = 20, factor = 1, noise = 0.003, stepsEveryS = 5, stepShare = 0.15 } = m;
	const n = 120 * rateHz;
	const timeS = Float64Array.from({ length: n }, (_, i) => i / rateHz);
	const flow = Float32Array.from(timeS, (t) => 0.4 + 0.3 * Math.sin(t / 9));
	const low = (t: number) => Math.floor(t / stepsEveryS) % 2 === 1;
	const goalAt = (t: number) => (low(t) && !m.cuts ? 1 - stepShare : 1);
	const cutAt = (t: number) => (m.cuts === true && low(t) ? 1 : 0);
	const lambda = Float32Array.from(timeS, (t, i) => {
		const seen = t - factor * defaultLagS(flow[i]!);
		return (cutAt(seen) ? 2 : goalAt(seen)) * (1 + noise * scatter(i));
	});
	const goal = m.goalKnown === false ? null : Float32Array.from(timeS, goalAt);
	const frame = { timeS, length: n, stepS: 1 / rateHz };
	return estimateLag(frame, lambda, mixtureSteps(frame, goal, Uint8Array.from(timeS, cutAt), flow));
}

describe('lag of a source, from its own log', () => {
	it.each([
		[20, 1],
		[20, 1.6],
		[50, 0.7],
		[50, 2.2],
		[10, 1.5],
		[100, 1.2]
	])('at %d Hz finds a sensor whose lag is %d times the default curve', (rateHz, factor) => {
		const lag = made({ rateHz, factor });
		expect(lag.from).toBe('log');
		expect(lag.factor).toBeGreaterThan(factor * 0.85 - 0.1);
		expect(lag.factor).toBeLessThan(factor * 1.15 + 0.1);
		expect(lag.quality).toBeGreaterThan(0.9);
	});
	it('reads it from fuel cuts where the target never moves', () => {
		const lag = made({ factor: 1.8, cuts: true, goalKnown: false });
		expect(lag).toMatchObject({ from: 'log' });
		expect(lag.factor).toBeCloseTo(1.8, 0);
	});
	it('keeps to the default curve when nothing steps', () => {
		expect(made({ stepShare: 0, factor: 2 })).toMatchObject({ from: 'default', factor: 1, steps: 0 });
	});
	it('keeps to it when a handful of steps is too few', () => {
		expect(made({ stepsEveryS: 50, factor: 2 }).from).toBe('default');
	});
	it('keeps to it when the source answers nothing, and says how badly it fits', () => {
		const n = 2400;
		const timeS = Float64Array.from({ length: n }, (_, i) => i / 20);
		const goal = Float32Array.from(timeS, (t) => (Math.floor(t / 5) % 2 ? 0.85 : 1));
		const deaf = Float32Array.from(timeS, (_, i) => 0.95 + 0.05 * scatter(i));
		const frame = { timeS, length: n, stepS: 0.05 };
		const flow = new Float32Array(n).fill(0.4);
		const lag = estimateLag(frame, deaf, mixtureSteps(frame, goal, new Uint8Array(n), flow));
		expect(lag.from).toBe('default');
		expect(lag.quality).toBeLessThan(0.7);
	});
	it('is what brings a late sensor back over its cause', () => {
		const n = 600;
		const timeS = Float64Array.from({ length: n }, (_, i) => i / 20);
		const flow = new Float32Array(n).fill(0.2);
		const goal = Float32Array.from(timeS, (t) => (Math.floor(t / 3) % 2 ? 0.8 : 1));
		const late = Float32Array.from(timeS, (t) => (Math.floor((t - 0.4) / 3) % 2 ? 0.8 : 1));
		const frame = { timeS, length: n, stepS: 0.05 };
		const lag = estimateLag(frame, late, mixtureSteps(frame, goal, new Uint8Array(n), flow));
		const back = aligned(
			late,
			timeS,
			flow.map((f) => lagSAt(lag, f))
		);
		const off = (v: Float32Array) => v.reduce((s, x, i) => s + (Math.abs(x - goal[i]!) > 0.1 ? 1 : 0), 0);
		expect(off(late)).toBeGreaterThan(60);
		expect(off(back)).toBeLessThan(15);
	});
	it.each([
		[0.07, 0.06],
		[0.18, 0.08],
		[0.1, 0.15],
		[0.05, 0.2]
	])('of a delay of %f s and a filter of %f s is about their sum, fuel cuts or not', (delayS, filterS) => {
		const n = 4800;
		const timeS = Float64Array.from({ length: n }, (_, i) => i / 20);
		// The target goes down as the boost comes, over three quarters of a second, and back; after every other one the fuel is cut.
		const cut = Uint8Array.from(timeS, (t) => (t % 24 > 10 && t % 24 < 12 ? 1 : 0));
		const goal = Float32Array.from(timeS, (t) => {
			const k = t % 12;
			return k < 4
				? 1
				: k < 4.75
					? 1 - (0.2 * (k - 4)) / 0.75
					: k < 9
						? 0.8
						: k < 9.5
							? 0.8 + 0.4 * (k - 9)
							: 1;
		});
		const seen = new Float32Array(n);
		let y = 1;
		for (let i = 0; i < n; i++) {
			for (let part = 0; part < 10; part++) {
				const k = Math.floor((timeS[i]! + part / 200 - delayS) * 20);
				const gas = k < 0 ? 1 : cut[k] ? 3 : goal[k]!;
				y += (gas - y) * (1 - Math.exp(-0.005 / filterS));
			}
			seen[i] = y;
		}
		const flow = Float32Array.from(goal, (g) => (g < 0.95 ? 0.8 : 0.3));
		const frame = { timeS, length: n, stepS: 0.05 };
		const lag = estimateLag(frame, seen, mixtureSteps(frame, goal, cut, flow));
		expect(lag.from).toBe('log');
		expect(Math.abs(lagSAt(lag, 0.5) - delayS - filterS)).toBeLessThan(0.06);
	});
});
