/** Swap tests on hand-made logs: what moved, what stayed, what can't be compared; and how often the rule is wrong about its own noise. */
import { prepare } from '../evidence/prepare.ts';
import { betweenBanks } from './contrast.ts';
import { describe, expect, it } from 'vitest';
import { type Calibration } from '../calibration/document.ts';
import { Rng } from '../stats/rng.ts';
import {
	handMade,
	perCylinder,
	twoBanks,
	vehicleWith,
	type Shape,
	calibrationWith
} from '../testing/hand-made.ts';
import { parseSwap, type Swap } from './document.ts';
import type { SwapAnswer } from './answer.ts';
import { answerOf, judgeSwap, type LogOf } from './judge.ts';
import type { MovedAnswer } from './moved-sensor.ts';
import { DAY_SE } from './rule.ts';

const V6 = twoBanks();
const vehicle = {
	...V6,
	engine: {
		...V6.engine,
		banks: [
			[1, 3, 5],
			[2, 4, 6]
		]
	}
};
const swap = (more: object): Swap => parseSwap({ schema: 'tanto.swap/1', ...more });
const INJECTORS = swap({ kind: 'injectors-side-to-side' });
const SENSORS = swap({ kind: 'lambda-side-to-side', labels: 'stay-with-bank' });
const OWN_HARNESS = swap({ kind: 'lambda-side-to-side', labels: 'follow-sensor' });
const MOVED = swap({ kind: 'lambda-moved', from: 'bank1' });
const REPAIR = swap({ kind: 'repair', what: 'the gasket' });

/** Cruise with a pull in it; lambda of each bank off its target by a share, with a little noise that the seed makes. */
function log(
	banks: readonly [number, number],
	more: Record<string, Shape> = {},
	seed = 1,
	calibrations: Calibration[] = []
): LogOf {
	const rng = new Rng(seed);
	const inPull = (t: number) => t >= 20 && t < 27;
	const target: Shape = (t) => (inPull(t) ? 0.8 : 1);
	const noisy =
		(share: number): Shape =>
		(t) =>
			target(t) * (1 + share) * (1 + 0.004 * rng.normal());
	return {
		log: handMade(50, 20, {
			rpm: (t) => (inPull(t) ? 2500 + ((t - 20) / 7) * 4000 : 2500 + 200 * Math.sin(t / 4)),
			map: (t) => (inPull(t) ? 170 : 45 + 4 * Math.sin(t / 3)),
			baro: () => 100,
			tps: (t) => (inPull(t) ? 100 : 18),
			ect: () => 88,
			iat: () => 30,
			'lambda.target': target,
			'lambda.b1': noisy(banks[0]),
			'lambda.b2': noisy(banks[1]),
			...more
		}),
		context: { vehicle, calibrations }
	};
}
const judge = (s: Swap, a: LogOf, b: LogOf, c?: LogOf) => judgeSwap(s, a, b, c) as SwapAnswer;

describe('the document of a swap test', () => {
	it.each([
		[{ kind: 'lambda-side-to-side' }, 'labels'],
		[{ kind: 'lambda-moved' }, 'from'],
		[{ kind: 'between-cylinders' }, 'cylinders'],
		[{ kind: 'between-cylinders', cylinders: [3, 3] }, 'cylinders'],
		[{ kind: 'between-cylinders', cylinders: [3, 17] }, 'cylinders'],
		[{ kind: 'sideways' }, 'kind']
	])('names the place of what is wrong in %j', (doc, where) => {
		expect(() => swap(doc)).toThrow(expect.objectContaining({ where: expect.stringContaining(where) }));
	});
});

describe('what moved with the part is the part (common practice)', () => {
	const lean2 = () => log([0, 0.07]);
	it('names the injectors when the lean bank changed sides', () => {
		const r = judge(INJECTORS, lean2(), log([0.07, 0], {}, 2));
		expect(r.answer).toBe('moved');
		expect(r.before!.pct).toBeCloseTo(7, 0);
		expect(r.after!.pct).toBeCloseTo(-6.5, 0);
		expect(r.before!.se).toBeGreaterThanOrEqual(100 * DAY_SE - 1e-9);
		expect(r.why).toContain('what sat at bank 2 is the cause');
		expect(r.next[0]).toContain('flowed');
		expect(r.cells).toBeGreaterThan(0);
	});
	it('rules the injectors out when it stayed, and asks for the sensors next', () => {
		const r = judge(INJECTORS, lean2(), log([0, 0.07], {}, 2));
		expect(r).toMatchObject({ answer: 'stayed', partPct: null });
		expect(r.next[0]).toContain('lambda sensors');
	});
	it('says of a sensor that moved that the bank was never lean', () => {
		const r = judge(SENSORS, lean2(), log([0.07, 0], {}, 2));
		expect(r.answer).toBe('moved');
		expect(r.why).toContain('never lean');
	});
	it('does not take "gone" for an answer before everything was put back', () => {
		const gone = judge(INJECTORS, lean2(), log([0, 0], {}, 2));
		expect(gone.answer).toBe('gone');
		expect(gone.next[0]).toContain('swap back');
		// There again: two equal halves. Not there any more: a connector.
		const halves = judge(INJECTORS, lean2(), log([0, 0], {}, 2), log([0, 0.07], {}, 3));
		expect(halves.answer).toBe('two-parts');
		expect(halves.partPct).toBeCloseTo(halves.placePct!, 0);
		expect(judge(INJECTORS, lean2(), log([0, 0], {}, 2), log([0, 0], {}, 3)).answer).toBe('gone');
	});
	it('tells two unequal parts apart', () => {
		// 8 % with the injectors, 4 % at the place.
		const r = judge(INJECTORS, log([0, 0.12]), log([0.08, 0.04], {}, 2));
		expect(r.answer).toBe('two-parts');
		expect(r.partPct).toBeCloseTo(8, 0);
		expect(r.placePct).toBeCloseTo(3.7, 0);
	});
	it('leaves a difference under 4 % undecided, whatever it does', () => {
		const r = judge(INJECTORS, log([0, 0.035]), log([0.035, 0], {}, 2));
		expect(r.answer).toBe('undecided');
		expect(r.why).toContain('under 4 %');
	});
	it('answers a repair with gone or stayed, never with moved', () => {
		expect(judge(REPAIR, lean2(), log([0, 0], {}, 2))).toMatchObject({ answer: 'gone' });
		expect(judge(REPAIR, lean2(), log([0, 0.07], {}, 2))).toMatchObject({ answer: 'stayed' });
		expect(judge(REPAIR, lean2(), log([0.07, 0], {}, 2)).answer).toBe('undecided');
	});
	it('counts what the trims hide', () => {
		const hidden = (side: 1 | 2, seed: number) =>
			log([0, 0], { 'stft.b1': () => (side === 1 ? 7 : 0), 'stft.b2': () => (side === 2 ? 7 : 0) }, seed);
		expect(judge(INJECTORS, hidden(2, 1), hidden(1, 2)).answer).toBe('moved');
	});
	it('takes the cylinder trims of each log’s own revision out', () => {
		const trimmed = (values: number[]) =>
			calibrationWith([
				{
					id: 'fuel.cylTrim',
					kind: 'curve',
					x: { channel: 'cylinder', points: [1, 2, 3, 4, 5, 6] },
					values
				}
			]);
		// Bank 2 was 7 % lean and has been trimmed by 7 % since: the difference is where it was.
		const plain = trimmed([0, 0, 0, 0, 0, 0]);
		const fuelled = trimmed([0, 7, 0, 7, 0, 7]);
		const r = judge(INJECTORS, log([0, 0.07], {}, 1, [plain]), log([0, 0], {}, 2, [fuelled]));
		expect(r.answer).toBe('stayed');
		expect(r.after!.pct).toBeCloseTo(7, 0);
	});
	it('judges the worst band of load: a pull is not diluted by a cruise', () => {
		const underBoost = (side: 1 | 2, seed: number) =>
			log([0, 0], { [`lambda.b${side}`]: (t) => (t >= 20 && t < 27 ? 0.8 * 1.08 : 1) }, seed);
		const r = judge(INJECTORS, underBoost(2, 1), underBoost(1, 2));
		expect(r).toMatchObject({ answer: 'moved', band: 'loaded' });
	});
	it('follows what is sure at a cruise past a pull that shows nothing', () => {
		const atCruise = (side: 1 | 2, seed: number) =>
			log([0, 0], { [`lambda.b${side}`]: (t) => (t >= 20 && t < 27 ? 0.8 : 1.07) }, seed);
		expect(judge(INJECTORS, atCruise(2, 1), atCruise(1, 2))).toMatchObject({
			answer: 'moved',
			band: 'light'
		});
	});
	it('shows the pulses of the banks beside it', () => {
		const r = judge(
			INJECTORS,
			log([0, 0.07], { 'pw.b1': () => 4, 'pw.b2': () => 4.08 }),
			log([0.07, 0], {}, 2)
		);
		expect(r.pulsePct).toBeCloseTo(2, 1);
	});
});

describe('sensors that kept their own harness', () => {
	it('are brought back to their banks before anything is compared', () => {
		// The sensor of bank 2 reads 7 % lean and hangs in bank 1 now; the file still calls it bank 2.
		expect(judge(OWN_HARNESS, log([0, 0.07]), log([0, 0.07], {}, 2)).answer).toBe('moved');
		expect(judge(OWN_HARNESS, log([0, 0.07]), log([0.07, 0], {}, 2)).answer).toBe('stayed');
	});
	it('are not compared where each bank was driven by the gas of the other', () => {
		const r = judge(
			OWN_HARNESS,
			log([0, 0.07]),
			log([0, 0.07], { 'stft.b1': () => 6, 'stft.b2': () => -6 }, 2)
		);
		expect(r.answer).toBe('not-comparable');
		expect(r.why).toContain('loop was closed');
	});
});

describe('logs that are no match', () => {
	const lean2 = log([0, 0.07], { ethanol: () => 10 });
	it.each<[string, number, number, string]>([
		['another fuel', 16, 30, 'ethanol'],
		['hotter air', 10, 41, 'intake air']
	])('%s', (_, ethanol, iat, why) => {
		const r = judge(INJECTORS, lean2, log([0.07, 0], { ethanol: () => ethanol, iat: () => iat }, 2));
		expect(r).toMatchObject({ answer: 'not-comparable', before: null, cells: 0 });
		expect(r.why).toContain(why);
	});
	it('a bank whose trims are not logged while the loop is closed', () => {
		const r = judge(
			INJECTORS,
			log([0, 0.07], { 'stft.b1': () => 3 }),
			log([0.07, 0], { 'stft.b1': () => 3 }, 2)
		);
		expect(r.answer).toBe('not-comparable');
		expect(r.why).toContain('trims of bank 2');
	});
	it('no band in which that loop works counts, even where it passes through zero; the others do', () => {
		const steps: Shape = (t) => (t >= 20 && t < 27 ? 0 : Math.floor(t * 10) % 2 ? 4 : 0);
		const finite = (more: Record<string, Shape>) => {
			const { log: made, context } = log([0, 0.07], more);
			const c = betweenBanks(prepare(made, context));
			const at = (from: number, to: number) =>
				'missing' in c ? 0 : c.values.filter((v, i) => v === v && i >= from * 20 && i < to * 20).length;
			return { cruise: at(2, 18), pull: at(21, 27) };
		};
		expect(finite({ 'stft.b1': steps, 'stft.b2': steps }).cruise).toBeGreaterThan(100);
		expect(finite({ 'stft.b1': steps }).cruise).toBe(0);
		expect(finite({ 'stft.b1': steps }).pull).toBeGreaterThan(50);
	});
	it('an engine with one bank', () => {
		const one = { ...log([0, 0.07]), context: { vehicle: vehicleWith() } };
		expect(judge(INJECTORS, one, one).answer).toBe('not-comparable');
	});
});

describe('between two cylinders', () => {
	const cylinders = (lean: number, seed: number) => {
		const rng = new Rng(seed);
		const target = (t: number) => (t >= 20 && t < 27 ? 0.8 : 1);
		return log(
			[0, 0],
			perCylinder('lambda', (c) => (t) => target(t) * (c === lean ? 1.09 : 1) * (1 + 0.004 * rng.normal())),
			seed
		);
	};
	const between = swap({ kind: 'between-cylinders', cylinders: [2, 5], what: 'the injectors' });
	it('names what moved from one to the other', () => {
		const r = judge(between, cylinders(2, 1), cylinders(5, 2));
		expect(r.answer).toBe('moved');
		expect(r.before!.pct).toBeLessThan(-7);
		expect(r.why).toContain('cylinder 2');
	});
	it('and what stayed', () => {
		expect(judge(between, cylinders(5, 1), cylinders(5, 2)).answer).toBe('stayed');
	});
	it('needs lambda of both', () => {
		const r = judge(between, log([0, 0]), log([0, 0], {}, 2));
		expect(r.answer).toBe('not-comparable');
		expect(r.why).toContain('cylinder 2 and 5');
	});
});

describe('a sensor that was moved to the other bank', () => {
	const moved = (a: LogOf, b: LogOf, c?: LogOf) => judgeSwap(MOVED, a, b, c) as MovedAnswer;
	/** One sensor only, at a bank that is off by a share. */
	const one = (share: number, seed: number) => {
		const l = log([share, 0], {}, seed);
		return { ...l, log: { ...l.log, channels: l.log.channels.filter((c) => c.id !== 'lambda.b2') } };
	};
	it('measures the other bank from 4 % on', () => {
		const r = moved(one(0, 1), one(0.06, 2));
		expect(r.answer).toBe('measured');
		expect(r.bank2AgainstBank1!.pct).toBeCloseTo(6, 0);
		expect(r.seenTo!.rpm).toBeGreaterThan(4000);
	});
	it('turns the sign where it began at bank 2', () => {
		const from2 = swap({ kind: 'lambda-moved', from: 'bank2' });
		const r = judgeSwap(from2, one(0, 1), one(0.06, 2)) as MovedAnswer;
		expect(r.bank2AgainstBank1!.pct).toBeCloseTo(-5.7, 0);
	});
	it('says below that how large a difference could be, until the day is taken out', () => {
		const r = moved(one(0, 1), one(0.03, 2));
		expect(r.answer).toBe('undecided');
		expect(r.why).toContain('No difference larger than +3');
		expect(moved(one(0, 1), one(0.035, 2), one(0, 3)).answer).toBe('measured');
	});
	it('takes the day out by a sensor that stayed where it was', () => {
		// The day made both 3 % leaner; the reference went from bank 1 to bank 2, which is no different.
		const ref = (day: number, seed: number) =>
			log([day, 0], { 'lambda.ref': (t) => (t >= 20 && t < 27 ? 0.8 : 1) * (1 + day) }, seed);
		const r = moved(ref(0, 1), ref(0.03, 2));
		expect(r.answer).toBe('undecided');
		expect(Math.abs(r.bank2AgainstBank1!.pct)).toBeLessThan(0.5);
	});
});

describe('the rule against noise of its own size', () => {
	const trials = 4000;
	const rng = new Rng(5);
	/** A log's difference: the truth, a day, and what is left of the noise in it. */
	const seen = (truth: number, se: number) => ({
		mean: truth + DAY_SE * rng.normal() + se * rng.normal(),
		se
	});
	const shares = (part: number, place: number) => {
		const count: Record<string, number> = {};
		for (let i = 0; i < trials; i++) {
			const { answer } = answerOf(INJECTORS, seen(part + place, 0.004), seen(place - part, 0.004));
			count[answer] = (count[answer] ?? 0) + 1 / trials;
		}
		return (...answers: string[]) => answers.reduce((s, a) => s + (count[a] ?? 0), 0);
	};
	it.each([0.05, 0.08, 0.15])('names a wrong cause in under 2 %% at %d', (size) => {
		expect(shares(size, 0)('stayed', 'gone', 'two-parts')).toBeLessThan(0.02);
		expect(shares(0, size)('moved', 'gone', 'two-parts')).toBeLessThan(0.02);
		expect(shares(size / 2, size / 2)('moved', 'stayed')).toBeLessThan(0.02);
	});
	it('names the cause of 8 % nearly always, and none where there is none', () => {
		expect(shares(0.08, 0)('moved')).toBeGreaterThan(0.9);
		expect(shares(0, 0.08)('stayed')).toBeGreaterThan(0.9);
		expect(shares(0, 0)('undecided')).toBeCloseTo(1, 6);
	});
});
