import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TraceWindow } from '$core/logfile/pyramid.ts';
import type { Preferences } from '../preferences.svelte';
import { buildLanes, groupsFor, shortNames } from './build';
import { channelsOf } from './questions';
import { clock } from '../time';
import {
	axisFigures,
	ENGINE_SPEED,
	ETHANOL,
	figures,
	LOG_NUMBER,
	overScale,
	TIME,
	valueRange
} from './scale';
import type { Lane } from './types';

const lane = (y: number[], more: Partial<Lane> = {}): Lane => ({
	id: 'a',
	title: 'A',
	unit: '',
	decimals: 1,
	series: [{ label: 'a', x: y.map((_, i) => i), y, tone: 'first' }],
	...more
});

describe('names of the lines of a lane', () => {
	it('leave out the word that all of them begin with, and only that', () => {
		expect(shortNames(['Lambda bank 1', 'Lambda target'])).toEqual(['bank 1', 'target']);
		expect(shortNames(['Manifold pressure', 'Boost set point'])).toEqual([
			'manifold pressure',
			'boost set point'
		]);
		expect(shortNames(['Engine speed'])).toEqual(['engine speed']);
	});
});

describe('the scale of a lane', () => {
	it('shows two to five round figures, all of them in sight', () => {
		fc.assert(
			fc.property(
				fc.double({ min: -5000, max: 9000, noNaN: true }),
				fc.double({ min: 0.01, max: 9000, noNaN: true }),
				(low, span) => {
					const shown = figures(low, low + span);
					expect(shown.length).toBeGreaterThanOrEqual(2);
					expect(shown.length).toBeLessThanOrEqual(5);
					const slack = span * 1e-9 + 1e-9;
					for (const v of shown) {
						expect(v).toBeGreaterThanOrEqual(low - slack);
						expect(v).toBeLessThanOrEqual(low + span + slack);
					}
					// 1, 2 or 5 of a power of ten apart.
					const step = shown[1]! - shown[0]!;
					const digit = Number(step.toPrecision(6).replace(/e.*|[0.]/g, '')[0]);
					expect([1, 2, 5]).toContain(digit);
				}
			)
		);
		expect(figures(21.3, 29.8)).toEqual([22, 24, 26, 28]);
		expect(figures(310, 7250)).toEqual([2000, 4000, 6000]);
	});
	it('leaves air around the values and never less than the least span', () => {
		expect(valueRange(lane([10, 20]), 0, 1)).toEqual({ min: 15 - 5.8, max: 15 + 5.8 });
		const flat = valueRange(lane([14, 14], { minSpan: 1 }), 0, 1);
		expect(flat.max - flat.min).toBeCloseTo(1.16, 9);
	});
	it('looks only at what is in sight', () => {
		expect(valueRange(lane([10, 20, 900]), 0, 1).max).toBeLessThan(30);
		expect(valueRange(lane([10, 20]), 7, 9)).toEqual({ min: 0, max: 1 });
	});
	it('stands a throttle on its floor, open or closed, and lets it go where it is zoomed in beyond its span', () => {
		for (const y of [
			[99, 99.6],
			[0, 3]
		]) {
			const { min, max } = valueRange(lane(y, { minSpan: 100, floor: 0 }), 0, 1);
			expect(min).toBeCloseTo(-4, 6);
			expect(max).toBeCloseTo(108, 6);
		}
		expect(valueRange(lane([60, 70], { minSpan: 2, floor: 0 }), 0, 1).min).toBeGreaterThan(50);
	});
	it('is not stretched by what goes over a ceiling', () => {
		expect(valueRange(lane([0.9, 1, 7], { ceiling: 1.3 }), 0, 2).max).toBeLessThan(1.4);
	});
	it('says where a value goes over the scale, up to the end of what is there', () => {
		const [whole] = lane([0.9, 7, 7, 0, 1, 9]).series;
		const series = { ...whole!, y: [0.9, 7, 7, null, 1, 9] };
		expect(overScale(series, 1.3)).toEqual([
			{ from: 1, to: 3 },
			{ from: 5, to: 5 }
		]);
		expect(overScale(series, 10)).toEqual([]);
	});
});

describe('the common axis', () => {
	const said = (axis: typeof TIME, from: number, to: number) =>
		axisFigures(axis, from, to).map((v) => axis.text(v, to - from));
	it('counts time in the steps of a clock, tenths where it is zoomed in', () => {
		expect(said(TIME, 0, 450)).toEqual(['0:00', '1:00', '2:00', '3:00', '4:00', '5:00', '6:00', '7:00']);
		expect(said(TIME, 244.3, 263)).toEqual([
			'4:06.0',
			'4:08.0',
			'4:10.0',
			'4:12.0',
			'4:14.0',
			'4:16.0',
			'4:18.0',
			'4:20.0',
			'4:22.0'
		]);
		expect(said(TIME, 3599.95, 3600.3)).toEqual(['1:00:00.0', '1:00:00.1', '1:00:00.2', '1:00:00.3']);
		expect(said(TIME, 0, 36_000).length).toBe(11);
	});
	it('counts engine speed and logs in whole steps', () => {
		expect(said(ENGINE_SPEED, 2250, 5750)).toEqual(['2500', '3000', '3500', '4000', '4500', '5000', '5500']);
		expect(said(LOG_NUMBER, 1, 4)).toEqual(['1', '2', '3', '4']);
		expect(said(LOG_NUMBER, 1, 1)).toEqual(['1']);
	});
	it('never crowds the figures and never leaves the axis', () => {
		fc.assert(
			fc.property(
				fc.double({ min: 0, max: 7000, noNaN: true }),
				fc.double({ min: 1, max: 7000, noNaN: true }),
				(from, span) => {
					const shown = axisFigures(TIME, from, from + span);
					expect(shown.length).toBeLessThanOrEqual(11);
					for (const v of shown) expect(v >= from - 1e-6 && v <= from + span + 1e-6).toBe(true);
				}
			)
		);
	});
	it('rounds tenths over the minute', () => {
		expect(clock(59.97, true)).toBe('1:00.0');
		expect(clock(59.97)).toBe('0:59');
		expect(clock(3661.26, true)).toBe('1:01:01.3');
	});
});

it('an axis of nothing has no figures', () => {
	expect(axisFigures(ETHANOL, Infinity, -Infinity)).toEqual([]);
	expect(axisFigures(ETHANOL, 0, 85)).toEqual([0, 10, 20, 30, 40, 50, 60, 70, 80]);
});

describe('lanes from channels', () => {
	const canonical = {
		shown: (v: number, unit: string) => ({ value: v, unit, decimals: 2 })
	} as unknown as Preferences;
	const trace: TraceWindow = { timeS: [0, 1], min: [1, 2], max: null };
	const lanesOf = (question: string, ids: string[]) => {
		const groups = groupsFor(channelsOf(question, new Set(ids)));
		return buildLanes(
			groups,
			Object.fromEntries(ids.map((id) => [id, trace])),
			{ name: '', traces: {} },
			canonical,
			14.7,
			() => ({})
		);
	};
	const tones = (l: Lane) =>
		Object.fromEntries(l.series.map((s) => [s.id, `${s.tone}${s.dashed ? ' dashed' : ''}`]));

	it('gives a bank the same colour in every lane, its learned trim dashed', () => {
		const [mixture, trims] = lanesOf('mixture', [
			'lambda.b1',
			'lambda.b2',
			'lambda.ref',
			'lambda.target',
			'stft.b1',
			'stft.b2',
			'ltft.b1',
			'ltft.b2'
		]);
		expect(tones(mixture!)).toEqual({
			'lambda.b1': 'second',
			'lambda.b2': 'third',
			'lambda.ref': 'first',
			'lambda.target': 'first dashed'
		});
		expect(tones(trims!)).toEqual({
			'stft.b1': 'second',
			'stft.b2': 'third',
			'ltft.b1': 'second dashed',
			'ltft.b2': 'third dashed'
		});
	});
	it('never draws two series of a lane alike', () => {
		const all = [
			'rpm',
			'map',
			'boostTarget',
			'lambda.b1',
			'lambda.ref',
			'lambda.target',
			'tps',
			'pedal',
			'maf'
		];
		all.push(
			'airflowModel',
			'iat',
			'ect',
			'knockRetard',
			'knockAdvance',
			'spark',
			'sparkBase',
			'pw.b1',
			'pw.b2'
		);
		for (const question of ['mixture', 'knock', 'supply', 'air'])
			for (const l of lanesOf(question, all)) {
				const looks = Object.values(tones(l));
				expect(new Set(looks).size, `${question}: ${l.title}`).toBe(looks.length);
			}
	});
	it('puts channels chosen by hand where they belong, the others each in a lane of its own', () => {
		expect(groupsFor(['stft.b2', 'oilTemp', 'stft.b1', 'vbat']).map((g) => [g.id, g.ids])).toEqual([
			['trims', ['stft.b2', 'stft.b1']],
			['oilTemp', ['oilTemp']],
			['vbat', ['vbat']]
		]);
	});
});
