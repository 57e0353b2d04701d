import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Frame } from '../logfile/frame.ts';
import { readLog } from '../logfile/read.ts';
import { boundsOf } from '../logfile/log.ts';
import { columnOn } from '../testing/hand-made.ts';
import type { Run } from '../stats/runs.ts';
import { extremes } from '../stats/stats.ts';
import { everySo, heldHigh, heldLow, medianAt, medianWhere, samplesWhere } from './measure.ts';

const STEP_S = 0.05;

/** Every window tried: the largest of the lowest values, and the first sample that has it there. */
function byHand(frame: Frame, values: Float32Array, holdS: number, within: readonly Run[], use: boolean[]) {
	let level = Number.NaN;
	for (const run of within)
		for (let from = run.from; from <= run.to; from++) {
			let low = Infinity;
			for (let to = from; to <= run.to; to++) {
				const hole = to > from && frame.timeS[to]! - frame.timeS[to - 1]! > 5 * frame.stepS;
				if (hole || !use[to] || Number.isNaN(values[to]!)) break;
				low = Math.min(low, values[to]!);
				const longEnough = frame.timeS[to]! - frame.timeS[from]! >= holdS - frame.stepS - 1e-6;
				if (longEnough && !(low <= level)) level = low;
			}
		}
	return level;
}

const made = fc.record({
	// Few distinct values, so that ties and plateaus come up; gaps, holes of the recording, samples that don't count.
	samples: fc.array(
		fc.record({
			value: fc.oneof(
				{ weight: 8, arbitrary: fc.integer({ min: 0, max: 12 }) },
				{ weight: 1, arbitrary: fc.constant(Number.NaN) }
			),
			steps: fc.oneof(
				{ weight: 12, arbitrary: fc.constant(1) },
				{ weight: 1, arbitrary: fc.integer({ min: 2, max: 9 }) }
			),
			used: fc.oneof({ weight: 8, arbitrary: fc.constant(true) }, fc.boolean())
		}),
		{ minLength: 40, maxLength: 120 }
	),
	holdS: fc.constantFrom(0, 0.1, 0.2, 0.3, 0.5, 1),
	cut: fc.integer({ min: 5, max: 35 })
});

describe('a level that is held', () => {
	it('is the largest lowest value of all windows, as trying each of them says', () => {
		fc.assert(
			fc.property(made, ({ samples, holdS, cut }) => {
				let steps = 0;
				const timeS = Float64Array.from(samples, (s) => (steps += s.steps) * STEP_S);
				const values = Float32Array.from(samples, (s) => s.value);
				const use = samples.map((s) => s.used);
				const frame = new Frame(columnOn(timeS, 'ect', values));
				const within = [
					{ from: 1, to: cut },
					{ from: cut + 2, to: samples.length - 1 }
				];
				const high = heldHigh(frame, values, holdS, within, (i) => use[i]!);
				expect(high.level).toBe(byHand(frame, values, holdS, within, use));
				if (high.at >= 0) expect(values[high.at]).toBe(high.level);
				else expect(high.level).toBeNaN();
				const negative = values.map((v) => -v);
				const low = heldLow(frame, values, holdS, within, (i) => use[i]!);
				expect(-low.level).toBe(byHand(frame, negative, holdS, within, use));
			}),
			{ numRuns: 400 }
		);
	});
	it('does not count one wild sample', () => {
		const timeS = Float64Array.from({ length: 100 }, (_, i) => i * STEP_S);
		const values = new Float32Array(100).fill(90);
		values[50] = 150;
		const frame = new Frame(columnOn(timeS, 'ect', values));
		expect(heldHigh(frame, values, 0.2, frame.whole).level).toBe(90);
		expect(heldHigh(frame, values, 0, frame.whole)).toEqual({ level: 150, at: 50 });
	});
});

describe('medians over samples', () => {
	it('skips what is missing and wants enough of the rest', () => {
		const values = Float32Array.of(1, Number.NaN, 3, 10, Number.NaN, 5);
		expect(medianWhere(values, () => true)).toBe(4);
		expect(medianWhere(values, (i) => i < 3)).toBe(2);
		expect(medianWhere(values, () => true, 5)).toBeNaN();
		expect(medianAt(values, Int32Array.of(1, 4))).toBeNaN();
	});
	it('of a long log takes every so many samples, but never misses the few that are there', () => {
		const ramp = Float32Array.from({ length: 100_000 }, (_, i) => i);
		expect(medianWhere(ramp, () => true)).toBeCloseTo(50_000, -2);
		const sparse = new Float32Array(100_000).fill(Number.NaN);
		for (const i of [11, 12, 13]) sparse[i] = i;
		expect(
			medianAt(
				sparse,
				samplesWhere(sparse.length, () => true),
				3
			)
		).toBe(12);
	});
	it('of many samples takes every so many, never fewer than asked for', () => {
		const all = Int32Array.from({ length: 1000 }, (_, i) => i);
		expect(everySo(all, 1000)).toBe(all);
		expect(everySo(all, 501)).toBe(all);
		const some = everySo(all, 300);
		expect(Array.from(some.subarray(0, 3))).toEqual([0, 3, 6]);
		for (const count of [1, 7, 300, 499]) expect(everySo(all, count).length).toBeGreaterThanOrEqual(count);
	});
});

describe('bounds of a channel', () => {
	it('are those of its samples, whatever unit and sign they were written in', () => {
		const lines = ['Time (s),Engine Speed (rpm),Coolant Temp (°F),Knock Retard (°),Manifold Pressure (psi)'];
		for (let i = 0; i < 200; i++)
			lines.push(
				`${(i / 20).toFixed(2)},${800 + i * 13},${190.3 + (i % 7)},${-(i % 5) / 3},${i === 40 ? '' : 5.1 + (i % 11)}`
			);
		const log = readLog([new TextEncoder().encode(lines.join('\n'))], { gaugeStoich: 14.7, baroKpa: 101.3 });
		expect(log.channels.map((c) => c.id)).toEqual(['rpm', 'ect', 'knockRetard', 'map']);
		for (const c of log.channels) expect(boundsOf(c)).toEqual(extremes(c.values));
		expect(boundsOf(log.channels[2]!)).toMatchObject({ min: 0, missing: 0 });
		expect(boundsOf(log.channels[3]!).missing).toBeCloseTo(1 / 200, 10);
	});
});
