/**
 * A cell map of any quantity over any two channels, with filters: what a reader asks of a log after the verdict. Computed from a
 * prepared log; a change of filter is one pass over its samples.
 */
import { FLAG, UNUSABLE, type FlagName } from '../segments/kinds.ts';
import type { Prepared } from '../prepared.ts';
import { CHANNELS } from '../../channels/canonical.ts';
import { retardOf } from '../knock/episodes.ts';
import { axisChannel } from '../../calibration/axes.ts';
import { requiredCorrection } from '../lambda/required.ts';
import { derived } from '../../logfile/columns.ts';
import { stretches } from '../../stats/runs.ts';
import { cellStats, nearestCells, placesOf, type CellStats, type Places } from './stats.ts';
import type { CellAxes } from '../../calibration/grid.ts';

export interface CellFilter {
	/** Kinds of driving that count; empty = all. */
	kinds: FlagName[];
	/** Tip-ins, cuts, warm-up, limiter, misfires and the like count too. */
	withUnusable: boolean;
	/** 0 = any gear. */
	gear: number;
	fromS: number;
	toS: number;
	/** Coolant at least this warm, °C; null = any. */
	coolantMinC: number | null;
	/** Intake air within these, °C; null = any. */
	intakeMinC: number | null;
	intakeMaxC: number | null;
}

export interface CellSpec {
	/** A quantity of `QUANTITIES`, or a channel. */
	quantity: string;
	axes: CellAxes;
	method: 'bilinear' | 'nearest';
	/** `believed`, or the channel of one source: for the corrections. */
	lambda: string;
	filter: CellFilter;
}

export interface CellView {
	/** Row by row (y), one value per x point; NaN where no sample is. In the unit of the quantity. */
	values: Float64Array;
	/** Standard deviation, in the unit of the quantity. */
	spread: Float64Array;
	/** Standard error of the mean, in the unit of the quantity. */
	se: Float64Array;
	/** Effective samples. */
	n: Float64Array;
	seconds: Float64Array;
	/** Samples that passed the filter and have a value. */
	samples: number;
}

export interface CellQuantity {
	id: string;
	title: string;
	/** As computed: shown through the reader's units where it is one of theirs. */
	unit: string;
	decimals: number;
	/** Around zero: more against less fuel, more against less air. */
	signed: boolean;
	/** Only samples that say something about the fuel table, unless the filter says otherwise. */
	fuel: boolean;
	/** The highest value of a cell is what matters, not the mean. */
	highest: boolean;
}

const own = (
	id: string,
	title: string,
	unit: string,
	more: Partial<Pick<CellQuantity, 'decimals' | 'signed' | 'fuel' | 'highest'>>
): CellQuantity => ({ id, title, unit, decimals: 1, signed: false, fuel: false, highest: false, ...more });

/** Quantities that a log makes possible; every channel of the log can be mapped as well. */
export function quantitiesOf(input: Prepared): CellQuantity[] {
	const { frame, required, believed } = input;
	const out: CellQuantity[] = [];
	const fuel = { signed: true, fuel: true };
	const single = required.banks.length === 1 || believed.shared;
	required.banks.forEach((k, b) => {
		if (k && !(believed.shared && b > 0))
			out.push(
				own(
					`correction.b${b + 1}`,
					single ? 'Required correction' : `Required correction, bank ${b + 1}`,
					'%',
					fuel
				)
			);
	});
	if (required.banks.length === 2 && required.banks.every(Boolean) && !believed.shared)
		out.push(own('banks', 'Bank 2 against bank 1', '%', fuel));
	if (frame.has('airflowModel') && frame.has('maf'))
		out.push(own('air', 'Modelled against measured air', '%', { signed: true }));
	if (retardOf(frame)) out.push(own('knock', 'Knock retard, highest', '°', { highest: true }));
	if (frame.first('spark', 'sparkBase')) out.push(own('timing', 'Timing', '°', {}));
	for (const id of frame.ids) {
		const kind = CHANNELS.get(id);
		const channel = input.log.channels.find((c) => c.id === id);
		if (kind && channel && kind.quantity !== 'text')
			out.push(own(id, kind.title, channel.unit, { decimals: kind.quantity === 'lambda' ? 3 : 1 }));
	}
	return out;
}

/** Percent off 1 for ratios, the value itself for the rest; NaN where missing. */
function valuesOf(input: Prepared, quantity: string, lambda: string): Float32Array | null {
	const { frame } = input;
	const bank = /^correction\.b([12])$/.exec(quantity)?.[1];
	if (bank) return required(input, lambda)[Number(bank) - 1] ?? null;
	if (quantity === 'banks') {
		const [a, b] = required(input, lambda);
		return a && b ? derived(b, (v, i) => v / a[i]!) : null;
	}
	if (quantity === 'air') {
		const model = frame.get('airflowModel');
		const maf = frame.get('maf');
		return model && maf ? derived(model, (v, i) => (maf[i]! > 0 ? v / maf[i]! : Number.NaN)) : null;
	}
	if (quantity === 'knock') return retardOf(frame);
	if (quantity === 'timing') return frame.first('spark', 'sparkBase');
	return frame.get(quantity);
}

const RATIOS = /^(correction\.|banks$|air$)/;

/** Corrections on the word of one source alone, kept per log: a reader goes back and forth between sources. */
const bySource = new WeakMap<Prepared, Map<string, (Float32Array | null)[]>>();

function required(input: Prepared, lambda: string): (Float32Array | null)[] {
	if (lambda === 'believed') return input.required.banks;
	let known = bySource.get(input);
	if (!known) bySource.set(input, (known = new Map<string, (Float32Array | null)[]>()));
	let done = known.get(lambda);
	if (!done) {
		const { frame, segments, believed, target, vehicle } = input;
		const banks = believed.sources.map(
			(list) =>
				list.find((s) => s.channel === lambda)?.values ??
				believed.all.find(
					(s) => s.channel === lambda && (s.site === 'collector' || believed.banks.length === 1)
				)?.values ??
				null
		);
		done = requiredCorrection(frame, segments, { ...believed, banks }, target, vehicle).banks;
		known.set(lambda, done);
	}
	return done;
}

/** 1 for every sample that the filter lets through. */
function passing(input: Prepared, filter: CellFilter, fuel: boolean): Uint8Array {
	const { frame, segments } = input;
	const t = frame.timeS;
	const wanted = filter.kinds.reduce((bits, k) => bits | FLAG[k], 0);
	// A standing engine is in no map, whatever else is let through.
	const barred = fuel && !filter.withUnusable ? UNUSABLE : FLAG.standing;
	const ect = filter.coolantMinC === null ? null : frame.get('ect');
	const iat = filter.intakeMinC === null && filter.intakeMaxC === null ? null : frame.get('iat');
	const coldest = filter.coolantMinC ?? -Infinity;
	const low = filter.intakeMinC ?? -Infinity;
	const high = filter.intakeMaxC ?? Infinity;
	const { fromS, toS, gear } = filter;
	const { flags } = segments;
	const inGear = gear ? segments.gear : null;
	const use = new Uint8Array(frame.length);
	if (gear && !inGear) return use;
	for (let i = 0; i < use.length; i++) {
		const f = flags[i]!;
		if (f & barred || (wanted && !(f & wanted))) continue;
		const at = t[i]!;
		if (at < fromS || at > toS) continue;
		if (inGear && inGear[i] !== gear) continue;
		if (ect && !(ect[i]! >= coldest)) continue;
		if (iat && !(iat[i]! >= low && iat[i]! <= high)) continue;
		use[i] = 1;
	}
	return use;
}

/** What a view is made of: where each sample lies, what it says, and whether it counts. */
export interface Gathered {
	quantity: CellQuantity;
	x: Float32Array;
	y: Float32Array;
	value: Float32Array;
	use: Uint8Array;
}

/** @returns `null` when the log lacks the quantity or an axis */
export function gather(input: Prepared, spec: CellSpec): Gathered | null {
	const quantity = quantitiesOf(input).find((q) => q.id === spec.quantity);
	const value = quantity && valuesOf(input, spec.quantity, spec.lambda);
	const x = axisChannel(
		input.frame,
		{ channel: spec.axes.xChannel, unit: spec.axes.xUnit },
		input.segments.baroKpa
	);
	const y = axisChannel(
		input.frame,
		{ channel: spec.axes.yChannel, unit: spec.axes.yUnit },
		input.segments.baroKpa
	);
	if (!quantity || !value || !x || !y) return null;
	return { quantity, x, y, value, use: passing(input, spec.filter, quantity.fuel) };
}

/** @returns `null` when the log lacks the quantity or an axis */
export function cellView(input: Prepared, spec: CellSpec): CellView | null {
	const g = gather(input, spec);
	if (!g) return null;
	const ratio = RATIOS.test(spec.quantity);
	const stats = cellStats({
		axes: spec.axes,
		x: g.x,
		y: g.y,
		value: g.value,
		use: g.use,
		timeS: input.frame.timeS,
		dtS: input.frame.dtS,
		lagS: input.believed.lagS,
		method: spec.method,
		places: placesFor(input, spec.axes, g.x, g.y),
		outliers: ratio ? 'dropped' : 'kept'
	});
	const { use, value } = g;
	let samples = 0;
	for (let i = 0; i < use.length; i++) if (use[i] && value[i] === value[i]) samples++;
	const scale = ratio ? 100 : 1;
	const values = g.quantity.highest
		? highest(spec.axes, g)
		: stats.mean.map((m) => (ratio ? (m - 1) * 100 : m));
	return {
		values,
		spread: stats.spread.map((s) => s * scale),
		se: stats.se.map((s) => s * scale),
		n: stats.n,
		seconds: stats.seconds,
		samples
	};
}

/** Places of the axes last looked at: another filter moves no sample. */
const lastPlaces = new WeakMap<Prepared, { key: string; places: Places }>();

function placesFor(input: Prepared, axes: CellAxes, x: Float32Array, y: Float32Array): Places {
	const key = JSON.stringify(axes);
	const known = lastPlaces.get(input);
	if (known?.key === key) return known.places;
	const places = placesOf(axes, x, y);
	lastPlaces.set(input, { key, places });
	return places;
}

function highest(axes: CellAxes, g: Gathered): CellStats['mean'] {
	const cell = nearestCells({ axes, x: g.x, y: g.y, value: g.value, use: g.use });
	const out = new Float64Array(axes.x.length * axes.y.length).fill(Number.NaN);
	for (let i = 0; i < cell.length; i++) {
		const c = cell[i]!;
		if (c >= 0 && !(g.value[i]! <= out[c]!)) out[c] = g.value[i]!;
	}
	return out;
}

export interface CellStretch {
	fromS: number;
	toS: number;
	samples: number;
	/** Mean in the unit of the quantity. */
	value: number;
}

/** Stretches of time that lie nearest to one cell, longest first: the samples behind it. */
export function samplesBehind(input: Prepared, spec: CellSpec, column: number, row: number): CellStretch[] {
	const g = gather(input, spec);
	if (!g) return [];
	const { frame } = input;
	const wanted = row * spec.axes.x.length + column;
	const cell = nearestCells({ axes: spec.axes, x: g.x, y: g.y, value: g.value, use: g.use });
	const ratio = RATIOS.test(spec.quantity);
	return stretches(frame, 0, (i) => cell[i] === wanted, frame.stepS * 3)
		.map((run) => {
			let sum = 0;
			let samples = 0;
			for (let i = run.from; i <= run.to; i++)
				if (cell[i] === wanted) {
					sum += g.value[i]!;
					samples++;
				}
			const mean = sum / samples;
			return {
				fromS: frame.timeS[run.from]!,
				toS: frame.timeS[run.to]!,
				samples,
				value: ratio ? (mean - 1) * 100 : mean
			};
		})
		.sort((a, b) => b.samples - a.samples);
}

/** A filter that lets everything of a log through. */
export function openFilter(durationS: number): CellFilter {
	return {
		kinds: [],
		withUnusable: false,
		gear: 0,
		fromS: 0,
		toS: durationS,
		coolantMinC: null,
		intakeMinC: null,
		intakeMaxC: null
	};
}
