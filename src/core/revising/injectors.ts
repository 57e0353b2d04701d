/**
 * Proposal for the injector data after the injectors were changed: flow and dead time, from how the required correction goes with the
 * pulse. The air model is taken as right (it was dialled in before): a flow that is wrong is wrong by the same share at every pulse, a
 * dead time that is wrong weighs the more the shorter the pulse.
 *
 * With e the pulse without the dead time of the revision, F its flow, F' and Δ what the injector really has:
 * k = e·F / (F'·(e + Δ)), so 1/k = F'/F + (F'/F)·Δ · 1/e: a line over 1/e. Δ is the revision's dead time less the real one.
 */
import { doubts } from '../screening/codes.ts';
import { decimalsOf, findCurve, findItem, roundTo } from '../calibration/lookup.ts';
import { along } from '../calibration/along.ts';
import { usable } from '../evidence/lambda/required.ts';
import { median, theilSen } from '../stats/stats.ts';
import { fixed, signed } from '../format.ts';
import type { Evidence } from '../correction/evidence.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';
import { TAKE_OUT_SHARE, type Strategy } from '../correction/strategy.ts';

const FLOW = 'injector.flow';
const DEAD = 'injector.deadTime';
const BINS = 14;
const LEAST_BINS = 4;
const LEAST_S = 1;
/** Longest pulse against the shortest: less says nothing about the two apart. */
const LEAST_SPAN = 2;
/** A shorter pulse than this is no measure: the injector hardly opens. */
const SHORTEST_MS = 0.4;
/** Bins farther off the line than this: it is neither flow nor dead time. */
const OFF_LINE_PCT = 3;
const QUIET_PCT = 1;
const QUIET_MS = 0.02;

export interface InjectorFit {
	/** Real flow over that of the revision. */
	flowRatio: number;
	/** Dead time of the revision less the real one, ms. */
	deadOffMs: number;
	/** Largest distance of a bin from the line, percent. */
	offLinePct: number;
	bins: number;
	samples: number;
}

/**
 * The line through required corrections over the inverse of the pulse.
 * @param pulseMs effective pulse (without dead time) @param k required correction, 1 = right @param dtS time of each sample
 * @returns why not, in words, where the pulses are too few or too alike
 */
export function injectorFit(
	pulseMs: Float32Array,
	k: Float32Array,
	dtS: Float64Array
): InjectorFit | { missing: string } {
	let low = Infinity;
	let high = 0;
	for (let i = 0; i < k.length; i++) {
		if (!(pulseMs[i]! > SHORTEST_MS) || !(k[i]! > 0)) continue;
		low = Math.min(low, pulseMs[i]!);
		high = Math.max(high, pulseMs[i]!);
	}
	if (!(high > 0)) return { missing: 'there is no pulse with a mixture to it' };
	// Bins of equal width over 1/e, along which the line runs.
	const width = (1 / low - 1 / high) / BINS || 1;
	const inverse: number[][] = Array.from({ length: BINS }, () => []);
	const value: number[][] = Array.from({ length: BINS }, () => []);
	const seconds = new Float64Array(BINS);
	for (let i = 0; i < k.length; i++) {
		if (!(pulseMs[i]! > SHORTEST_MS) || !(k[i]! > 0)) continue;
		const b = Math.min(BINS - 1, Math.floor((1 / pulseMs[i]! - 1 / high) / width));
		inverse[b]!.push(1 / pulseMs[i]!);
		value[b]!.push(1 / k[i]!);
		seconds[b]! += dtS[i]!;
	}
	const x: number[] = [];
	const y: number[] = [];
	let samples = 0;
	for (let b = 0; b < BINS; b++) {
		if (seconds[b]! < LEAST_S) continue;
		x.push(median(inverse[b]!));
		y.push(median(value[b]!));
		samples += value[b]!.length;
	}
	if (x.length < LEAST_BINS || Math.max(...x) / Math.min(...x) < LEAST_SPAN)
		return {
			missing:
				'the pulses are too alike to tell flow from dead time: log idle, cruise and full load on the ordinary fuel'
		};
	const slope = theilSen(x, y);
	const flowRatio = median(y.map((v, i) => v - slope * x[i]!));
	return {
		flowRatio,
		deadOffMs: slope / flowRatio,
		offLinePct: Math.max(...y.map((v, i) => Math.abs(100 * (v / (flowRatio + slope * x[i]!) - 1)))),
		bins: x.length,
		samples
	};
}

/** Proposes flow and dead time; everything is held where the banks, the sensors or the fuel pressure are in doubt. */
export function proposeInjectors(
	evidence: readonly Evidence[],
	s: Strategy
): { changes: ItemProposal[]; held: Held[] } {
	const calibration = evidence[0]?.input.calibration;
	const hold = (reason: string, code?: string) => ({
		changes: [],
		held: [{ item: FLOW, reason, ...(code ? { code } : {}) }]
	});
	if (!calibration) return hold('it is not known which revision the logs were made with');
	if (calibration.fuelModel === 'pulse-width')
		return hold('in the pulse-width model the table itself is the pulse: there is no flow to correct');
	const flow = findItem(calibration, FLOW);
	if (flow?.kind !== 'scalar') return hold('the calibration has no flow of the injectors');
	const doubt = evidence
		.flatMap((e) => e.findings)
		.find((f) => doubts(f.code, 'injectors') && (f.severity === 'stop' || f.severity === 'fix'));
	if (doubt)
		return hold(`${doubt.title}: that would go into the injector data; find the cause first`, doubt.code);
	const pulses: number[] = [];
	const corrections: number[] = [];
	const times: number[] = [];
	const volts: number[] = [];
	for (const { input } of evidence) {
		const { frame, segments, required, vehicle } = input;
		const dead = along(frame, calibration, DEAD, segments.baroKpa);
		const stated = vehicle.injectors?.deadTimeMs ?? [];
		const fallback = stated.length ? median(stated.map((d) => d[1])) : Number.NaN;
		const vbat = frame.get('vbat');
		required.banks.forEach((k, b) => {
			const pw = frame.first(`pw.b${b + 1}`, 'pw.b1');
			if (!k || !pw) return;
			for (let i = 0; i < k.length; i++) {
				if (!usable(segments, i) || k[i] !== k[i]) continue;
				pulses.push(pw[i]! - (dead?.[i] ?? fallback));
				corrections.push(k[i]!);
				times.push(frame.dtS[i]!);
				if (vbat && vbat[i] === vbat[i]) volts.push(vbat[i]!);
			}
		});
	}
	if (pulses.length === 0) return hold('pulse width and mixture are not both logged');
	const fit = injectorFit(
		Float32Array.from(pulses),
		Float32Array.from(corrections),
		Float64Array.from(times)
	);
	if ('missing' in fit) return hold(fit.missing);
	if (fit.offLinePct > OFF_LINE_PCT)
		return hold(
			`the error doesn't go with the pulse (up to ${fixed(fit.offLinePct, 1)} % off the line): it is the table, not the injectors`
		);
	const changes: ItemProposal[] = [];
	// A larger flow and a shorter dead time take fuel away: in small steps, as everywhere.
	const step = (pct: number) =>
		pct > 0
			? Math.min(pct * s.removeShare * TAKE_OUT_SHARE, s.maxRemovePct, s.maxPct)
			: Math.max(pct * s.addShare, -s.maxPct);
	const cell = (x: number, from: number, to: number, basis: CellChange['basis']): CellChange => ({
		x,
		y: 0,
		from,
		to,
		basis,
		samples: basis === 'measured' ? fit.samples : 0,
		se: null
	});
	const flowPct = 100 * (fit.flowRatio - 1);
	if (Math.abs(flowPct) >= QUIET_PCT) {
		const to = roundTo(flow.value * (1 + step(flowPct) / 100), flow.decimals ?? 1);
		if (to !== flow.value)
			changes.push({
				item: FLOW,
				cells: [cell(0, flow.value, to, 'measured')],
				reason: `The same error at every pulse: the injectors flow ${signed(flowPct)} % against what the revision believes`,
				findings: []
			});
	}
	const curve = findCurve(calibration, DEAD);
	if (curve && Math.abs(fit.deadOffMs) >= QUIET_MS) {
		const at = volts.length ? median(volts) : 14;
		const here = nearest(curve.x.points, at);
		const own = curve.values[here]!;
		const share = fit.deadOffMs > 0 ? s.removeShare * TAKE_OUT_SHARE : s.addShare;
		const ratio = Math.max(0, own - fit.deadOffMs * share) / own;
		const decimals = decimalsOf(curve);
		const cells = curve.x.points.flatMap((x, i): CellChange[] => {
			const from = curve.values[i]!;
			const to = roundTo(from * ratio, decimals);
			return to === from ? [] : [cell(x, from, to, i === here ? 'measured' : 'carried')];
		});
		if (own > 0 && cells.length)
			changes.push({
				item: DEAD,
				cells,
				reason: `An error that grows as the pulse gets shorter: the dead time is ${signed(-fit.deadOffMs, 2)} ms off at ${fixed(at, 1)} V; other voltages in proportion`,
				findings: []
			});
	}
	return { changes, held: [] };
}

function nearest(points: readonly number[], v: number): number {
	return points.reduce((best, p, i) => (Math.abs(p - v) < Math.abs(points[best]! - v) ? i : best), 0);
}
