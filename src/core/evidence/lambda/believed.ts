/**
 * The mixture each bank is believed to run: the sources that see its gas, brought to the moment of combustion.
 * Sources that agree are averaged; while they disagree the leaner one is believed, for safety.
 */
import { FLAG, NO_MIXTURE } from '../segments/kinds.ts';
import { derived, maskOf } from '../../logfile/columns.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Segments } from '../segments/segments.ts';
import type { Profile } from '../../limits/profile.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import { bankCount } from '../../vehicle/facts.ts';
import { usualSeat } from '../../vehicle/seats.ts';
import { consensus, type Basis, type Candidate } from './consensus.ts';
import { aligned, defaultLagS, flowShare } from './lag.ts';
import { estimateLag, lagSAt, mixtureSteps } from './lag-estimate.ts';
import { type GasPath, type LambdaSource, gasPaths, kindOf, meanOf } from './witnesses.ts';

export interface Believed {
	/** One entry per bank (1 for an inline engine); `null` where no source sees that bank alone or with the others. */
	banks: (Float32Array | null)[];
	/** The same as the log alone says it, without what was typed beside it: for pictures of what was measured. */
	logged: (Float32Array | null)[];
	/** Sources behind each bank. */
	sources: LambdaSource[][];
	/** Every source of the engine's gas, wherever it sits. */
	all: LambdaSource[];
	/** True where bank values come from one sensor in the common pipe. */
	shared: boolean;
	/** Per bank: median difference between its sources while loaded (or overall), in percent; NaN with one source. */
	disagreementPct: number[];
	basis: Basis[];
	/** 1 at samples of places where the sources of a bank are apart: nothing is taken out on their word. */
	doubtful: Uint8Array;
	/** Where two or more witnesses saw the same gas. */
	paths: GasPath[];
	/** Lag per sample: of the slowest source, for whatever has to keep clear of what a sensor may still see. */
	lagS: Float32Array;
	/** 1 for samples at which a reading may be touched by unburnt air or fuel. */
	hidden: Uint8Array;
}

const SOURCES = ['lambda.b1', 'lambda.b2', 'lambda.ref', 'lambda.ref2', 'lambda.dyno'];

/** Where each lambda channel sits: as the vehicle states, else the controller's own in their banks and others in the collector. */
export function siteOf(channel: string, vehicle: Vehicle): string {
	const stated = vehicle.sensors?.lambda?.find((s) => s.channel === channel);
	return stated?.site ?? usualSeat(channel, bankCount(vehicle));
}

/**
 * A sensor needs this long to come back after air or raw fuel went past it (with a filter of 0.15 s it takes four times that to within 2 % of
 * the whole way), and lags are known no better than the other. Our own choice.
 */
const RECOVER_S = 0.6;
const LAG_DOUBT_S = 0.15;
/** Times of samples are sums of decimals: equal up to this. */
const SLACK_S = 1e-6;

/**
 * Samples whose mixture reading may be touched by a sample with one of `bits`: from 0.15 s and the lag before it
 * to 0.6 s after.
 */
export function near(flags: Uint32Array, bits: number, timeS: Float64Array, lagS: Float32Array): Uint8Array {
	const n = flags.length;
	const out = new Uint8Array(n);
	let last = -Infinity;
	for (let i = 0; i < n; i++) {
		if (flags[i]! & bits) last = timeS[i]!;
		if (timeS[i]! - last <= RECOVER_S + SLACK_S) out[i] = 1;
	}
	let next = Infinity;
	for (let i = n - 1; i >= 0; i--) {
		if (flags[i]! & bits) next = timeS[i]!;
		if (next - timeS[i]! <= lagS[i]! + LAG_DOUBT_S + SLACK_S) out[i] = 1;
	}
	return out;
}

export function believedLambda(
	frame: Frame,
	segments: Segments,
	vehicle: Vehicle,
	profile: Profile,
	target: Float32Array | null = null
): Believed {
	const rpm = frame.get('rpm') ?? new Float32Array(frame.length);
	const map = frame.get('map');
	let topKpa = segments.baroKpa;
	for (const [, kpa] of vehicle.baselines?.boostKpa ?? []) topKpa = Math.max(topKpa, kpa);
	topKpa = Math.max(topKpa, frame.bounds('map')?.max || 0);
	const flow = flowShare(rpm, map, frame.first('tps', 'pedal'), vehicle.engine.revLimitRpm, topKpa);
	const curveS = derived(flow, defaultLagS);
	const banks = bankCount(vehicle);
	const noFuel = maskOf(frame.length, (i) => (segments.flags[i]! & (FLAG.fuelCut | FLAG.standing)) !== 0);
	const steps = mixtureSteps(frame, target, noFuel, flow);
	const all: LambdaSource[] = [];
	let slowest = -Infinity;
	let lagS = curveS;
	for (const channel of SOURCES) {
		const values = frame.get(channel);
		if (!values || kindOf(channel, vehicle) === 'narrowband') continue;
		const site = siteOf(channel, vehicle);
		if (site.startsWith('cyl') || (site === 'bank2' && banks === 1)) continue;
		const lag = estimateLag(frame, values, steps);
		const ownS = lag.from === 'default' ? curveS : derived(flow, (f) => lagSAt(lag, f));
		if (lag.typicalS > slowest || (all.length === 0 && lag.from === 'log')) {
			slowest = lag.typicalS;
			lagS = ownS;
		}
		all.push({ channel, site, values: aligned(values, frame.timeS, ownS), lag });
	}
	const hidden = near(segments.flags, NO_MIXTURE, frame.timeS, lagS);
	for (const s of all) for (let i = 0; i < hidden.length; i++) if (hidden[i]) s.values[i] = Number.NaN;
	const collector = all.filter((s) => s.site === 'collector');
	const own = [1, 2].slice(0, banks).map((b) => all.filter((s) => s.site === `bank${b}`));
	// One bank seen and the other not, or none: the common pipe is all there is for a bank without its own sensor.
	const sources = own.map((list) => (list.length ? list : collector));
	// One exhaust: whatever is in it sees the same gas. Two: the pipe carries the mean of both.
	const sides =
		collector.length > 0 && banks === 2 && own.every((list) => list.length > 0)
			? own.map((list) => meanOf(list.map((s) => s.values)))
			: null;
	const mean = sides && derived(sides[0]!, (v, i) => (v + sides[1]![i]!) / 2);
	const disagreementPct: number[] = [];
	const basis: Basis[] = [];
	const doubtful = new Uint8Array(frame.length);
	const values = own.map((list, b) => {
		const single = banks === 1 ? [...list, ...collector] : list;
		const {
			values: v,
			pct,
			basis: on,
			doubtful: unsure
		} = consensus(
			candidates(single, banks === 1 ? [] : collector, mean, vehicle),
			{ rpm, dtS: frame.dtS },
			segments,
			profile
		);
		for (let i = 0; i < doubtful.length; i++) if (unsure[i]) doubtful[i] = 1;
		disagreementPct[b] = pct;
		basis[b] = on;
		return v;
	});
	return {
		banks: values,
		logged: values,
		sources,
		all,
		shared: own.every((list) => list.length === 0) && collector.length > 0 && banks === 2,
		disagreementPct,
		basis,
		doubtful,
		paths: gasPaths(all, banks, vehicle),
		lagS,
		hidden
	};
}

/**
 * What can be said of a bank: its own sources by kind, and each instrument in the common pipe carried over to the bank by the ratio
 * between the pipe and the mean of both banks.
 */
function candidates(
	own: readonly LambdaSource[],
	collector: readonly LambdaSource[],
	mean: Float32Array | null,
	vehicle: Vehicle
): Candidate[] {
	const kind = (s: LambdaSource) => kindOf(s.channel, vehicle);
	const factory = own.filter((s) => kind(s) === 'factory');
	const out: Candidate[] = [];
	if (factory.length) out.push({ witness: 'factory', values: meanOf(factory.map((s) => s.values)) });
	for (const s of own) if (kind(s) === 'independent') out.push({ witness: s.channel, values: s.values });
	const base = out[0]?.values;
	for (const s of collector) {
		if (!base) out.push({ witness: s.channel, values: s.values });
		else if (mean)
			out.push({ witness: s.channel, values: derived(base, (v, i) => (v * s.values[i]!) / mean[i]!) });
	}
	return out;
}
