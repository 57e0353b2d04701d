/** The requirement of the engine from all logs that still tell of it, and what each node may change by. */
import type { Calibration } from '../calibration/document.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { PROVED } from '../evidence/knock/proved.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { agreedNodes } from './agreement.ts';
import { keptNodes } from './kept.ts';
import { leanCylinderNodes } from './lean-cylinder.ts';
import { barredNodes, type Knocks, seesBank } from './barred.ts';
import { capped } from './cap.ts';
import { hear, isOpen, type Evidence, type Hearing } from './evidence.ts';
import { fitField, type Field, type Fitted } from './field.ts';
import { followed, type Follow } from './follows.ts';
import { nodesOf, type Nodes } from './nodes.ts';
import { changesOf, levelOnly, measuredNodes, type LevelOnly, type NodeChange } from './rules.ts';
import {
	atLeast,
	betweenBanks,
	samplesOf,
	LOADED,
	type Reading,
	type Samples,
	type Spoken
} from './samples.ts';
import type { Strategy } from './strategy.ts';

export interface Requirement {
	base: Calibration;
	hearings: Hearing[];
	/** Logs behind the field, in the order of its offsets. */
	speaking: Prepared[];
	nodes: Nodes;
	samples: Samples;
	field: Field;
	changes: NodeChange[];
	level: LevelOnly | null;
	follows: Follow[];
	/** How much it knocks in the logs used. */
	knocks: Knocks;
	/** By how much loaded nodes may come out rich, percent: a learned trim whose effect under load isn't known. */
	richPct: number;
}

export interface EstimateOptions {
	strategy: Strategy;
	/** No fuel comes out anywhere. */
	noRemoval: boolean;
	/** Banks are between watch and fix apart: the leaner one is fed. */
	feedLeaner: boolean;
	reading?: Reading;
	/** Percent that the trims of cylinders are raised by at the same time. */
	trimsRaisedPct?: ReadonlyMap<number, number>;
}

/** @returns `null` where no log says anything about the tables of `base` */
export function estimate(
	evidence: readonly Evidence[],
	base: Calibration,
	{ strategy, noRemoval, feedLeaner, reading = atLeast, trimsRaisedPct = new Map() }: EstimateOptions
): Requirement | null {
	const nodes = nodesOf(base);
	const { hearings, other } = byBank(hear(evidence, base));
	const logs = hearings.flatMap((h): Spoken[] =>
		h.silent === null ? [{ input: h.evidence.input, against: h.own ? null : base }] : []
	);
	if (nodes.count === 0 || logs.length === 0) return null;
	const samples = samplesOf(logs, nodes, reading, strategy.method);
	if (!samples) return null;
	const speaking = logs.map((l) => l.input);
	const { baroKpa } = speaking[0]!.segments;
	const free = fitField(samples, nodes, logs.length, baroKpa);
	const fitted = { ...free, field: capped(free.field, samples) };
	const { follows, without } = followed(speaking, samples, fitted);
	const knocks = knocksIn(hearings);
	const uncertain = uncertainNodes(speaking, samples, nodes.count);
	const cylinders = leanCylinderNodes(speaking, samples, nodes, trimsRaisedPct);
	const witness = otherBank(other, base, nodes, reading, strategy);
	const changes = changesOf(leaner(gentler(fitted, without), witness), {
		strategy,
		baroKpa,
		noRemoval,
		keep: uncertain.nodes,
		barred: barredNodes(speaking, samples, nodes, knocks, witness?.measured),
		kept: keptNodes(speaking, reading, samples, nodes.count),
		leanCylinder: cylinders,
		held: heldNodes(speaking, nodes, samples, strategy.method),
		agreed: agreedNodes(speaking, samples, nodes.count),
		leanerBank: feedLeaner ? leanerOf(logs, nodes, samples, strategy.method, baroKpa) : null,
		counted: speaking.some((i) => i.frame.ids.some((id) => id.startsWith('misfire.')))
	});
	return {
		base,
		hearings,
		speaking,
		nodes,
		samples,
		field: fitted.field,
		changes,
		level: cylinders.some((v) => v > 0) ? null : levelOnly(fitted.field, strategy),
		follows,
		knocks,
		richPct: uncertain.richPct
	};
}

const KNOCK = ['knock.real', 'knock.unclear', 'knock.missed'];

/** Whether it knocks in a log that is used: enough to act on, or a little. A little of it is no finding to fix, and the first sign all the same. */
function knocksIn(hearings: readonly Hearing[]): Knocks {
	const found = hearings
		.filter((h) => h.silent === null)
		.flatMap((h) => h.evidence.findings.filter((f) => KNOCK.includes(f.code) && f.kind !== PROVED));
	if (found.length === 0) return null;
	return found.some(isOpen) ? 'open' : 'little';
}

/**
 * Logs of one sensor that sat in one bank and then in the other are two witnesses: those of the bank that the first log saw speak, the others
 * are heard beside them. Where a log saw both banks at once, that one tells of both.
 */
function byBank(all: Hearing[]): { hearings: Hearing[]; other: Hearing[] } {
	const sees = (h: Hearing) => [0, 1].filter((b) => seesBank(h.evidence.input, b)).join('');
	const heard = all.filter((h) => h.silent === null);
	const first = heard[0] ? sees(heard[0]) : '';
	if (first.length !== 1 || heard.some((h) => sees(h).length === 2)) return { hearings: all, other: [] };
	const other = heard.filter((h) => sees(h).length === 1 && sees(h) !== first);
	const beside = `its sensor sat in bank ${first === '0' ? 2 : 1}: heard beside the others, not averaged with them`;
	return { hearings: all.map((h) => (other.includes(h) ? { ...h, silent: beside } : h)), other };
}

interface OtherBank {
	/** Per node: what the other bank wants. */
	d: Float64Array;
	sd: Float64Array;
	/** 1 where it was measured. */
	measured: Uint8Array;
}

function otherBank(
	other: readonly Hearing[],
	base: Calibration,
	nodes: Nodes,
	reading: Reading,
	strategy: Strategy
): OtherBank | null {
	const logs = other.map((h): Spoken => ({ input: h.evidence.input, against: h.own ? null : base }));
	const samples = logs.length ? samplesOf(logs, nodes, reading, strategy.method) : null;
	if (!samples) return null;
	const field = capped(fitField(samples, nodes, logs.length, logs[0]!.input.segments.baroKpa).field, samples);
	return { d: field.d, sd: field.sd, measured: measuredNodes(field, strategy) };
}

/** No node gets less than the leaner of both banks wants. */
function leaner(field: Field, witness: OtherBank | null): Field {
	if (!witness) return field;
	const wins = (i: number) => witness.measured[i] === 1 && witness.d[i]! > field.d[i]!;
	return {
		...field,
		d: field.d.map((v, i) => (wins(i) ? witness.d[i]! : v)),
		sd: field.sd.map((v, i) => (wins(i) ? witness.sd[i]! : v))
	};
}

/** What the error follows beside the table may keep fuel in, never keep it out. */
function gentler({ field }: Fitted, without: Float64Array | null): Field {
	if (!without) return field;
	return { ...field, d: field.d.map((v, i) => (v < 0 ? Math.max(v, Math.min(0, without[i]!)) : v)) };
}

/** Nodes under samples whose learned trim may or may not act at full load. */
function uncertainNodes(
	logs: readonly Prepared[],
	s: Samples,
	count: number
): { nodes: Uint8Array; richPct: number } {
	const nodes = new Uint8Array(count);
	let richPct = 0;
	const learned = logs.map((input) =>
		input.required.loadedUncertain.some(Boolean)
			? [1, 2].flatMap((b) => input.frame.get(`ltft.b${b}`) ?? [])
			: null
	);
	for (let i = 0; i < s.count; i++) {
		const trims = s.band[i] === LOADED ? learned[s.log[i]!] : null;
		if (!trims) continue;
		for (const v of trims) richPct = Math.max(richPct, Math.abs(v[s.index[i]!]!) || 0);
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) nodes[s.node[e]!] = 1;
	}
	return { nodes, richPct };
}

/** Nodes where the engine ran under suspicion of a misfire, and hardly otherwise: no neighbour's word goes there. */
function heldNodes(
	logs: readonly Prepared[],
	nodes: Nodes,
	s: Samples,
	method: Strategy['method']
): Uint8Array {
	const barred = FLAG.misfire;
	const suspect = logs.some((l) => l.segments.flags.some((f) => f & barred));
	if (!suspect) return new Uint8Array(nodes.count);
	const held = samplesOf(
		logs.map((input) => ({ input: onlyMisfires(input), against: null })),
		nodes,
		({ frame }) => new Float32Array(frame.length).fill(1),
		method
	);
	const bad = held ? secondsOf(held, nodes.count) : new Float64Array(nodes.count);
	const good = secondsOf(s, nodes.count);
	return Uint8Array.from(bad, (b, i) => (b > 0 && b > good[i]! ? 1 : 0));
}

/** The same log with its misfires as the only samples that count. */
function onlyMisfires(input: Prepared): Prepared {
	const flags = new Uint32Array(input.segments.flags.length);
	for (let i = 0; i < flags.length; i++) {
		const f = input.segments.flags[i]!;
		flags[i] = f & FLAG.misfire && !(f & FLAG.standing) ? f & (FLAG.loaded | FLAG.pull) : FLAG.standing;
	}
	return { ...input, segments: { ...input.segments, flags } };
}

function secondsOf(s: Samples, count: number): Float64Array {
	const out = new Float64Array(count);
	for (let i = 0; i < s.count; i++)
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) out[s.node[e]!]! += s.b[e]! * s.dtS[i]!;
	return out;
}

/** Half of the smoothed difference of the banks at nodes that were driven loaded: on top of their mean it feeds the leaner one. */
function leanerOf(
	logs: readonly Spoken[],
	nodes: Nodes,
	s: Samples,
	method: Strategy['method'],
	baroKpa: number
): Float64Array | null {
	const between = samplesOf(
		logs.map(({ input }) => ({ input, against: null })),
		nodes,
		betweenBanks,
		method
	);
	if (!between) return null;
	const { d } = fitField(between, nodes, logs.length, baroKpa).field;
	const loaded = new Float64Array(nodes.count);
	const all = secondsOf(s, nodes.count);
	for (let i = 0; i < s.count; i++)
		if (s.band[i] === LOADED)
			for (let e = s.start[i]!; e < s.start[i + 1]!; e++) loaded[s.node[e]!]! += s.b[e]! * s.dtS[i]!;
	return d.map((v, i) => (loaded[i]! > all[i]! / 2 ? Math.abs(v) / 2 : 0));
}
