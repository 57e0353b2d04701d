/** What may change, by hand-made fields: each rule on its own. */
import { describe, expect, it } from 'vitest';
import { calibrationOf } from '../testing/field-trial.ts';
import type { Field } from './field.ts';
import { nodesOf } from './nodes.ts';
import { changesOf, type Grounds } from './rules.ts';
import { DEFAULT_STRATEGY } from './strategy.ts';

const X = [1000, 1500, 2000, 2500, 3000];
const Y = [40, 60, 80, 100, 120, 160, 200];
const nodes = nodesOf(
	calibrationOf(
		Y.map(() => X.map(() => 80)),
		X,
		Y
	)
);
const COUNT = X.length * Y.length;
const at = (rpm: number, kpa: number) => Y.indexOf(kpa) * X.length + X.indexOf(rpm);

/** A field of which only the named nodes were driven. */
function made(driven: Record<number, number>, more: Partial<Field> = {}, logs = 1): Field {
	const fill = (near: number, far: number) =>
		Float64Array.from({ length: COUNT }, (_, i) => (i in driven ? near : far));
	return {
		nodes,
		d: Float64Array.from({ length: COUNT }, (_, i) => driven[i] ?? 0),
		sd: fill(0.01, 0.06),
		priorSd: fill(0.2, 0.2),
		trust: fill(0.99, 0.5),
		support: fill(40, 0),
		seconds: fill(2, 0),
		secondsByLog: [],
		miss: new Float64Array(COUNT).fill(Number.NaN),
		misfit: new Uint8Array(COUNT),
		level: { value: 0, sd: 0.01 },
		offsets: Array.from({ length: logs }, () => ({ value: 0, sd: 0.007 })),
		day: 0.007,
		noise: { sigma: [0.01, 0.01], scaleS: [0.2, 0.2] },
		...more
	};
}
const ground = (more: Partial<Grounds> = {}): Grounds => ({
	strategy: DEFAULT_STRATEGY,
	baroKpa: 100,
	noRemoval: false,
	keep: new Uint8Array(COUNT),
	held: new Uint8Array(COUNT),
	agreed: new Uint8Array(COUNT),
	barred: { why: new Array<null>(COUNT).fill(null), ask: new Uint8Array(COUNT) },
	kept: new Float64Array(COUNT).fill(Number.NaN),
	leanCylinder: new Float64Array(COUNT),
	leanerBank: null,
	counted: true,
	...more
});
const flags = (...on: number[]) => Uint8Array.from({ length: COUNT }, (_, i) => (on.includes(i) ? 1 : 0));
const HERE = at(2000, 80);

describe('adding', () => {
	it.each([
		[0.06, 0.06],
		[0.3, 0.15],
		[0.009, 0],
		[0.011, 0.011]
	])('of %s gives %s: all of it, at most 15 points, nothing under its own doubt', (d, delta) => {
		expect(changesOf(made({ [HERE]: d }), ground())[HERE]!.delta).toBeCloseTo(delta, 9);
	});
	it('is asked over 8 % where nobody counts misfires', () => {
		const asked = (d: number, counted: boolean) =>
			changesOf(made({ [HERE]: d }), ground({ counted }))[HERE]!.ask;
		expect([asked(0.09, false), asked(0.07, false), asked(0.09, true)]).toEqual([true, false, false]);
	});
	it('follows its own samples where they are leaner than the field, and takes nothing out there', () => {
		const miss = new Float64Array(COUNT).fill(Number.NaN);
		miss[HERE] = 0.05;
		const misfit = flags(HERE);
		expect(changesOf(made({ [HERE]: 0.03 }, { miss, misfit }), ground())[HERE]).toMatchObject({
			delta: 0.08,
			misfit: true
		});
		const rich = changesOf(made({ [HERE]: -0.08 }, { miss, misfit }), ground())[HERE]!;
		expect(rich).toMatchObject({ delta: 0, stays: 'removal-held' });
	});
	it('feeds the leaner bank by half of what lies between them', () => {
		const leanerBank = new Float64Array(COUNT);
		leanerBank[HERE] = 0.015;
		expect(changesOf(made({ [HERE]: 0.02 }), ground({ leanerBank }))[HERE]!.delta).toBeCloseTo(0.035, 9);
	});
});

describe('taking out', () => {
	it('is what is certain, at most 5 %, or 10 % where two witnesses agree', () => {
		const delta = (d: number, more = {}) => changesOf(made({ [HERE]: d }), ground(more))[HERE]!.delta;
		expect(delta(-0.03)).toBeCloseTo(-0.02, 9);
		expect(delta(-0.2)).toBeCloseTo(-0.05, 9);
		expect(delta(-0.2, { agreed: flags(HERE) })).toBeCloseTo(-0.1, 9);
		expect(delta(-0.008)).toBe(0);
	});
	it('counts the scatter of a day once: with one log it is in the field already', () => {
		const one = changesOf(made({ [HERE]: -0.03 }), ground())[HERE]!;
		const many = changesOf(made({ [HERE]: -0.03 }, {}, 4), ground())[HERE]!;
		expect(one.sdTotal).toBeCloseTo(0.01, 9);
		expect(many.sdTotal).toBeCloseTo(Math.hypot(0.01, 0.007 * Math.sqrt(0.75)), 9);
	});
	it.each([
		['fuel may not come out anywhere', { noRemoval: true }],
		['a learned trim isn’t known there', { keep: flags(HERE) }]
	])('waits while %s', (_, more) => {
		expect(changesOf(made({ [HERE]: -0.05 }), ground(more))[HERE]).toMatchObject({
			delta: 0,
			stays: 'removal-held'
		});
	});
});

describe('where nobody drove', () => {
	const sure = (where: number[], d: number) =>
		made(
			{ [at(1500, 80)]: d, [at(2500, 80)]: d },
			{
				d: Float64Array.from({ length: COUNT }, (_, i) =>
					where.includes(i) || i === at(1500, 80) || i === at(2500, 80) ? d : 0
				),
				trust: Float64Array.from({ length: COUNT }, (_, i) => (where.includes(i) ? 0.9 : 0.5)),
				sd: Float64Array.from({ length: COUNT }, (_, i) =>
					where.includes(i) ? 0.02 : i === at(1500, 80) || i === at(2500, 80) ? 0.01 : 0.06
				)
			}
		);
	it('carries what the field is sure of within a step; takes out only between measured nodes', () => {
		const add = changesOf(sure([at(2000, 80), at(3000, 80)], 0.05), ground());
		expect(add[at(2000, 80)]).toMatchObject({ basis: 'carried', delta: 0.05 });
		expect(add[at(3000, 80)]).toMatchObject({ basis: 'carried' });
		const out = changesOf(sure([at(2000, 80), at(3000, 80)], -0.06), ground());
		expect(out[at(2000, 80)]!.delta).toBeLessThan(0);
		expect(out[at(3000, 80)]!.delta).toBe(0);
	});
	it('leaves what is far or unsure', () => {
		const f = changesOf(sure([at(2000, 160)], 0.05), ground());
		expect(f[at(2000, 160)]).toMatchObject({ delta: 0, basis: null });
	});
	it('takes the edge along upwards by up to 60 kPa, never down, never into what is held', () => {
		const up = changesOf(made({ [at(2000, 100)]: 0.05 }), ground());
		expect(up[at(2000, 120)]).toMatchObject({ delta: 0.05, upwards: true, basis: 'carried' });
		expect(up[at(2000, 160)]!.delta).toBe(0.05);
		expect(up[at(2000, 200)]!.delta).toBe(0);
		expect(changesOf(made({ [at(2000, 100)]: -0.05 }), ground())[at(2000, 120)]!.delta).toBe(0);
		const held = changesOf(made({ [at(2000, 100)]: 0.05 }), ground({ held: flags(at(2000, 120)) }));
		expect(held[at(2000, 120)]).toMatchObject({ delta: 0, stays: 'held' });
	});
	it('carries nothing where the strategy says so', () => {
		const strategy = { ...DEFAULT_STRATEGY, carry: false };
		const f = changesOf(made({ [at(2000, 100)]: 0.05 }), ground({ strategy }));
		expect(f.filter((n) => n.delta !== 0)).toHaveLength(1);
	});
});

describe('what the trims hold under load', () => {
	const kept = new Float64Array(COUNT).fill(Number.NaN);
	kept[HERE] = 0.13;
	const why = new Array<null | 'knock.real'>(COUNT).fill(null);
	why[HERE] = 'knock.real';
	const quiet = new Uint8Array(COUNT);
	const change = (more: Partial<Grounds>) =>
		changesOf(made({ [HERE]: 0.04 }), ground({ kept, ...more }))[HERE]!;
	it('goes in where nothing may come out: reset trims would lean it all the same', () => {
		expect(change({ barred: { why, ask: quiet } }).delta).toBeCloseTo(0.13, 9);
		expect(change({}).delta).toBeCloseTo(0.04, 9);
	});
	it('is asked about where taking out is asked, and goes in for the cautious', () => {
		const barred = { why: new Array<null>(COUNT).fill(null), ask: flags(HERE) };
		expect(change({ barred })).toMatchObject({ ask: true, delta: 0.04 });
		const careful = change({ barred, strategy: { ...DEFAULT_STRATEGY, cautious: true } });
		expect(careful.ask).toBe(false);
		expect(careful.delta).toBeCloseTo(0.13, 9);
	});
	it('goes in for the cautious where the rest of a large addition is a question', () => {
		const of = (cautious: boolean) =>
			changesOf(
				made({ [HERE]: 0.14 }),
				ground({ kept, counted: false, strategy: { ...DEFAULT_STRATEGY, cautious } })
			)[HERE]!;
		expect(of(true)).toMatchObject({ ask: false, delta: 0.13 });
		expect(of(false)).toMatchObject({ ask: true, delta: 0.14 });
	});
	it('changes nothing where the engine wants more than that', () => {
		expect(
			changesOf(made({ [HERE]: 0.14 }), ground({ kept, barred: { why, ask: quiet } }))[HERE]!.delta
		).toBeCloseTo(0.14, 9);
	});
});
