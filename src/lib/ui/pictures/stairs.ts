/** The bands of the staircase of a ladder: what each shows, how far its scale reaches, and where it stands. */
import { max, min } from 'd3-array';
import { fixed } from '$core/format';
import { figuresOf, scaleOf, type Scale } from './plot';

export interface Stair {
	name: string;
	/** What kind of step it was. */
	kind: string;
	boostKpa: number | null;
	timingDeg: number | null;
	knockDeg: number | null;
	mixture: { middlePct: number; lowPct: number; highPct: number } | null;
	power: { morePct: number; sePct: number } | null;
}

export interface Way {
	stairs: Stair[];
	/** The step that comes next: what of it changes. */
	next: { name: string; kind: 'boost' | 'timing' | 'other'; to: number | null } | null;
	goal: { boostKpa: number | null; timingCeilingDeg: number | null };
	limits: { knockDeg: number; leanPct: number };
}

/** Pressures as their reader has them. */
export interface Pressures {
	shown: (kpa: number) => number;
	unit: string;
	decimals: number;
}

export type BandId = 'boost' | 'timing' | 'knock' | 'mixture' | 'power';
export interface Band {
	id: BandId;
	title: string;
	unit: string;
	/** Pixels from the top of the picture. */
	top: number;
	height: number;
	scale: Scale;
	figures: number[];
	decimals: number;
	/** By step; `null` where nothing tells. */
	values: (number | null)[];
	goal: { at: number; label: string } | null;
}

/** What a band is made of, before it has its place. */
interface Plan extends Pick<Band, 'id' | 'title' | 'unit' | 'height' | 'values'> {
	/** Least span of its scale. */
	least: number;
	/** What the scale has to hold beside the values. */
	also?: (number | null)[];
	/** It stands on zero. */
	onZero?: true;
	decimals?: number;
	goal?: Band['goal'];
}

const AIR = 0.22;
const [ABOVE, BELOW] = [12, 8];
/** Least spans: boost in kPa, timing in degrees, mixture and power in percent. Own choices. */
const LEAST = { boostKpa: 20, timingDeg: 4, mixturePct: 6, powerPct: 2 };
/** The limit of knock stands at two thirds of its band. */
const KNOCK_SPAN = 1.5;

function placed(p: Plan, top: number): Band {
	const all = [...p.values, ...(p.also ?? [])].filter((v) => v !== null);
	const low = Math.min(min(all) ?? 0, p.onZero ? 0 : Infinity);
	const high = Math.max(max(all) ?? 1, low + p.least);
	const air = (high - low) * AIR;
	const scale = scaleOf(p.onZero ? low : low - air, high + air, top + p.height - BELOW, top + ABOVE);
	const { id, title, unit, height, values, decimals = 0, goal = null } = p;
	return {
		id,
		title,
		unit,
		top,
		height,
		scale,
		figures: figuresOf(scale.from, scale.to),
		decimals,
		values,
		goal
	};
}

function plans({ stairs, next, goal, limits }: Way, p: Pressures): Plan[] {
	const kpa = (v: number | null) => (v === null ? null : p.shown(v));
	const aim = kpa(goal.boostKpa);
	const ceiling = goal.timingCeilingDeg;
	const by = (of: (s: Stair) => number | null) => stairs.map(of);
	const all: Plan[] = [
		{
			id: 'boost',
			title: 'Boost',
			unit: p.unit,
			height: 104,
			values: by((s) => kpa(s.boostKpa)),
			least: p.shown(100 + LEAST.boostKpa) - p.shown(100),
			also: [aim, next?.kind === 'boost' ? kpa(next.to) : null],
			decimals: p.decimals,
			goal: aim === null ? null : { at: aim, label: `goal ${fixed(aim, p.decimals)}` }
		},
		{
			id: 'timing',
			title: 'Timing',
			unit: '° in the pulls',
			height: 104,
			values: by((s) => s.timingDeg),
			least: LEAST.timingDeg,
			also: [ceiling, next?.kind === 'timing' ? next.to : null],
			goal: ceiling === null ? null : { at: ceiling, label: `ceiling ${fixed(ceiling, 0)}` }
		},
		{
			id: 'knock',
			title: 'Knock',
			unit: '° pulled',
			height: 64,
			values: by((s) => s.knockDeg),
			least: limits.knockDeg * KNOCK_SPAN,
			onZero: true
		},
		{
			id: 'mixture',
			title: 'Mixture',
			unit: '% lean',
			height: 76,
			values: by((s) => s.mixture?.middlePct ?? null),
			least: LEAST.mixturePct,
			also: [
				limits.leanPct,
				...stairs.flatMap((s) => (s.mixture ? [s.mixture.lowPct, s.mixture.highPct] : []))
			]
		},
		{
			id: 'power',
			title: 'Power',
			unit: '% a step',
			height: 64,
			values: by((s) => s.power?.morePct ?? null),
			least: LEAST.powerPct,
			onZero: true
		}
	];
	// Knock and mixture stand there empty as well: that nobody looked is what has to be seen.
	return all.filter(({ id, values }) => id === 'knock' || id === 'mixture' || values.some((v) => v !== null));
}

/** @param top where the first begins, pixels */
export function bandsOf(way: Way, pressures: Pressures, top: number): Band[] {
	let at = top;
	return plans(way, pressures).map((p) => {
		const band = placed(p, at);
		at += p.height;
		return band;
	});
}
