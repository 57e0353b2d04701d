/** What a pasted table may be: its item, its unit, what its axes are read by, from the numbers and the words around them; first what fits best. */
import { axisTitle } from '../axes.ts';
import { titleOf } from '../items.ts';
import type { PastedTable } from './block.ts';

export interface AxisGuess {
	channel: string;
	unit: string;
	why: string;
}

export interface ItemGuess {
	item: string;
	unit: string;
	why: string;
}

export interface Guess {
	items: ItemGuess[];
	x: AxisGuess[];
	y: AxisGuess[];
}

interface Span {
	low: number;
	high: number;
	/** Smallest step. */
	step: number;
	count: number;
	whole: boolean;
}

function spanOf(points: readonly number[]): Span {
	const steps = points.slice(1).map((p, i) => Math.abs(p - points[i]!));
	return {
		low: Math.min(...points),
		high: Math.max(...points),
		step: steps.length ? Math.min(...steps) : 0,
		count: points.length,
		whole: points.every(Number.isInteger)
	};
}

/** Spans that the points of an axis have in practice: own choice, wide enough for what engines do. */
const AXES: readonly { channel: string; unit: string; fits: (s: Span) => boolean }[] = [
	{
		channel: 'cylinder',
		unit: '',
		fits: (s) => s.whole && s.low === 1 && s.step === 1 && s.high === s.count && s.count <= 16
	},
	{
		channel: 'rpm',
		unit: 'rpm',
		fits: (s) => s.low >= 0 && s.high >= 2500 && s.high <= 20_000 && s.step >= 25
	},
	{ channel: 'boost', unit: 'psi', fits: (s) => s.low < 0 && s.low >= -15 && s.high > 1 && s.high <= 75 },
	{ channel: 'boost', unit: 'bar', fits: (s) => s.low < 0 && s.low >= -1.05 && s.high > 0.05 && s.high <= 5 },
	{ channel: 'boost', unit: 'kPa', fits: (s) => s.low < -15 && s.low >= -101 && s.high <= 400 },
	{ channel: 'map', unit: 'kPa', fits: (s) => s.low >= 0 && s.high > 60 && s.high <= 500 },
	{
		channel: 'mafFrequency',
		unit: 'Hz',
		fits: (s) => s.low >= 0 && s.high > 2000 && s.high <= 20_000 && s.count >= 8
	},
	{ channel: 'vbat', unit: 'V', fits: (s) => s.low >= 4 && s.low <= 10 && s.high >= 13 && s.high <= 20 },
	{ channel: 'airmass', unit: 'g', fits: (s) => s.low >= 0 && s.high > 0.3 && s.high <= 3 },
	{ channel: 'pressureRatio', unit: '', fits: (s) => s.low >= 0.1 && s.high > 0.9 && s.high <= 5 },
	{ channel: 'map', unit: 'bar', fits: (s) => s.low >= 0 && s.high > 0.9 && s.high <= 5 },
	{ channel: 'airmass', unit: 'mg', fits: (s) => s.low >= 0 && s.high > 300 && s.high <= 3000 },
	{ channel: 'tps', unit: '%', fits: (s) => s.low >= 0 && s.high <= 100 && s.high >= 60 },
	{ channel: 'map', unit: 'psi', fits: (s) => s.low >= 0 && s.high > 9 && s.high <= 75 },
	{ channel: 'iat', unit: '°C', fits: (s) => s.low >= -50 && s.low <= 30 && s.high >= 50 && s.high <= 180 },
	{ channel: 'gear', unit: '', fits: (s) => s.whole && s.low >= 0 && s.high <= 12 && s.step === 1 }
];

/** Words that name an axis. */
const AXIS_WORDS: readonly [RegExp, string][] = [
	[/\brpm\b|engine speed|drehzahl/i, 'rpm'],
	[/\bmap\b|manifold|\bkpa\b|\bpsi\b|\bbar\b|boost/i, 'map boost pressureRatio'],
	[/\bhz\b|frequency/i, 'mafFrequency'],
	[/volt|battery|\bvbat\b/i, 'vbat'],
	[/g\/cyl|air ?mass|mg\/str/i, 'airmass'],
	[/throttle|\btps\b/i, 'tps'],
	[/intake (air )?temp|\biat\b/i, 'iat'],
	[/cylinder|\bcyl\b/i, 'cylinder']
];

function axisGuesses(points: readonly number[] | null, words: string, curve = false): AxisGuess[] {
	if (!points) return [];
	const span = spanOf(points);
	const named = AXIS_WORDS.flatMap(([word, channels]) => (word.test(words) ? channels.split(' ') : []));
	return AXES.filter((a) => a.fits(span))
		.map((a, n) => ({
			a,
			// An air meter's curve has no second axis; a table over engine speed has.
			rank: n - (named.includes(a.channel) ? 20 : 0) - (curve && a.channel === 'mafFrequency' ? 10 : 0)
		}))
		.sort((p, q) => p.rank - q.rank)
		.map(({ a }) => ({
			channel: a.channel,
			unit: a.unit,
			why: `${span.low} to ${span.high}: ${axisTitle(a.channel).toLowerCase()}${a.unit ? ` in ${a.unit}` : ''}${a.channel === 'boost' ? ', the air outside being 0' : ''}`
		}));
}

interface Facts {
	low: number;
	high: number;
	mid: number;
	/** Mean change along the rows of load, share of the span: timing falls with load, fuel rises. */
	rise: number;
	x: string | null;
	y: string | null;
	curve: boolean;
}

interface Candidate {
	item: string;
	unit: string;
	words: RegExp;
	/** 0: can't be; the higher the likelier. */
	fits: (f: Facts) => number;
}

const loadAxis = (channel: string | null) =>
	['map', 'boost', 'pressureRatio', 'airmass', 'tps'].includes(channel ?? '');
const between = (f: Facts, low: number, high: number) => f.low >= low && f.high <= high;

const CANDIDATES: readonly Candidate[] = [
	{
		item: 'lambda.target',
		unit: 'λ',
		words: /lambda|λ|target|mixture/i,
		fits: (f) => (!f.curve && between(f, 0.5, 1.6) && f.mid > 0.65 ? 3 : 0)
	},
	{
		item: 'lambda.target',
		unit: 'AFR',
		words: /\bafr\b|air.?fuel|target|mixture/i,
		fits: (f) => (!f.curve && between(f, 8, 22) && f.high - f.low < 9 ? 2.5 : 0)
	},
	{
		item: 'spark.table',
		unit: '°',
		words: /spark|ignition|timing|advance|btdc/i,
		fits: (f) => (!f.curve && between(f, -25, 65) && f.high > 5 ? (f.rise < -0.1 ? 2.2 : 1) : 0)
	},
	{
		item: 'fuel.table',
		unit: '%',
		words: /\bve\b|fuel|volumetric|pulse|inject/i,
		fits: (f) => (!f.curve && between(f, 0, 260) && f.high > 15 && loadAxis(f.y) ? (f.rise > 0 ? 2 : 1) : 0)
	},
	{
		item: 'boost.target',
		unit: 'kPa',
		words: /boost|set ?point|pressure target/i,
		fits: (f) => (between(f, 60, 450) && f.low > 60 && !loadAxis(f.y) ? 1.2 : 0)
	},
	{
		item: 'maf.curve',
		unit: 'g/s',
		words: /\bmaf\b|air.?(mass|flow)|meter/i,
		fits: (f) => (f.curve && f.x === 'mafFrequency' && f.low >= 0 && f.high < 1500 ? 3 : 0)
	},
	{
		item: 'injector.deadTime',
		unit: 'ms',
		words: /dead.?time|latency|battery|offset/i,
		fits: (f) => (f.curve && f.x === 'vbat' && between(f, 0, 8) ? 3 : 0)
	},
	{
		item: 'fuel.cylTrim',
		unit: '%',
		words: /cyl/i,
		fits: (f) => (f.curve && f.x === 'cylinder' && between(f, -30, 30) ? 2 : 0)
	},
	{
		item: 'fuel.iatTrim',
		unit: '%',
		words: /temp|iat/i,
		fits: (f) => (f.curve && f.x === 'iat' && between(f, -40, 40) ? 1.5 : 0)
	},
	{
		item: 'throttle.demand',
		unit: '%',
		words: /throttle|pedal|demand/i,
		fits: (f) => (!f.curve && between(f, 0, 100) && (f.y === 'tps' || f.x === 'tps') ? 1.3 : 0)
	}
];
/** A word beside the table weighs as much as the numbers. */
const WORD = 3;

/** @param known items that are pasted already: they are unlikely to come again */
export function guessOf(t: PastedTable, known: ReadonlySet<string> = new Set()): Guess {
	const words = t.titles.join(' ');
	const x = axisGuesses(t.x, words, t.values.length === 1);
	const y = axisGuesses(t.y, words);
	// A word that names one axis doesn't name the other as well.
	const all = t.values.flat();
	const sorted = all.toSorted((a, b) => a - b);
	const rows = t.values;
	const span = Math.max(1e-9, sorted.at(-1)! - sorted[0]!);
	const mean = (row: readonly number[]) => row.reduce((s, v) => s + v, 0) / row.length;
	const facts: Facts = {
		low: sorted[0]!,
		high: sorted.at(-1)!,
		mid: sorted[sorted.length >> 1]!,
		rise: rows.length > 1 ? (mean(rows.at(-1)!) - mean(rows[0]!)) / span : 0,
		x: x[0]?.channel ?? null,
		y: y.find((a) => a.channel !== x[0]?.channel)?.channel ?? null,
		curve: rows.length === 1
	};
	const items = CANDIDATES.map((c) => {
		const fit = c.fits(facts);
		const said = c.words.test(words);
		return { c, fit, said, rank: fit + (said && fit > 0 ? WORD : 0) - (known.has(c.item) ? WORD : 0) };
	})
		.filter(({ fit }) => fit > 0)
		.sort((a, b) => b.rank - a.rank)
		.map(({ c, said }) => ({
			item: c.item,
			unit: c.unit,
			why: `values from ${facts.low} to ${facts.high}${facts.x ? ` over ${axisTitle(facts.x).toLowerCase()}` : ''}${facts.y ? ` and ${axisTitle(facts.y).toLowerCase()}` : ''}${said ? `, and it is called “${words.slice(0, 60)}”` : ''}: ${titleOf({ id: c.item }).toLowerCase()}`
		}));
	return { items, x, y };
}

/** Whether the columns of a table are read by load and the rows by engine speed: then x runs down the rows. */
export function looksTransposed(t: PastedTable): boolean {
	if (!t.x || !t.y) return false;
	const channel = (points: readonly number[]) => axisGuesses(points, '')[0]?.channel ?? null;
	return channel(t.y) === 'rpm' && channel(t.x) !== 'rpm';
}
