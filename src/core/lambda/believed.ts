/**
 * The mixture each bank is believed to run: the sources that see its gas, brought to the moment of combustion.
 * Sources that agree are averaged; while they disagree the leaner one is believed, for safety.
 */
import type { Frame } from '../logfile/frame.ts';
import { FLAG, NO_MIXTURE, type Segments } from '../segments/segments.ts';
import type { Profile } from '../screening/profile.ts';
import { median } from '../stats/stats.ts';
import { bankCount, type Vehicle } from '../vehicle.ts';
import { aligned, defaultLagS, flowShare } from './lag.ts';

export interface LambdaSource {
	channel: string;
	site: string;
	/** The channel's values at the moment of combustion. */
	values: Float32Array;
}

export interface Believed {
	/** One entry per bank (1 for an inline engine); `null` where no source sees that bank alone or with the others. */
	banks: (Float32Array | null)[];
	/** Sources behind each bank. */
	sources: LambdaSource[][];
	/** True where bank values come from one sensor in the common pipe. */
	shared: boolean;
	/** Per bank: median difference between its sources while loaded (or overall), in percent; NaN with one source. */
	disagreementPct: number[];
	lagS: Float32Array;
}

const SOURCES = ['lambda.b1', 'lambda.b2', 'lambda.ref', 'lambda.ref2', 'lambda.dyno'];

/** Where each lambda channel sits: as the vehicle states, else the controller's own in their banks and others in the collector. */
export function siteOf(channel: string, vehicle: Vehicle): string {
	const stated = vehicle.sensors?.lambda?.find((s) => s.channel === channel);
	if (stated) return stated.site;
	if (channel === 'lambda.b1') return 'bank1';
	if (channel === 'lambda.b2') return 'bank2';
	return bankCount(vehicle) === 1 ? 'bank1' : 'collector';
}

function isNarrowband(channel: string, vehicle: Vehicle): boolean {
	return vehicle.sensors?.lambda?.some((s) => s.channel === channel && s.kind === 'narrowband') ?? false;
}

/** A sensor needs this long to come back after air or raw fuel went past it, and lags are known no better than this. */
const RECOVER_S = 0.3;
const LAG_DOUBT_S = 0.15;
/** Times of samples are sums of decimals: equal up to this. */
const SLACK_S = 1e-6;

/**
 * Samples whose mixture reading may be touched by a sample with one of `bits`: from 0.15 s and the lag before it
 * to 0.3 s after.
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
	profile: Profile
): Believed {
	const rpm = frame.get('rpm') ?? new Float32Array(frame.length);
	const map = frame.get('map');
	let topKpa = segments.baroKpa;
	for (const [, kpa] of vehicle.baselines?.boostKpa ?? []) topKpa = Math.max(topKpa, kpa);
	if (map) for (let i = 0; i < map.length; i++) if (map[i]! > topKpa) topKpa = map[i]!;
	const flow = flowShare(rpm, map, frame.first('tps', 'pedal'), vehicle.engine.revLimitRpm, topKpa);
	const lagS = flow.map(defaultLagS);
	const banks = bankCount(vehicle);
	const hidden = near(segments.flags, NO_MIXTURE, frame.timeS, lagS);
	const all: LambdaSource[] = [];
	for (const channel of SOURCES) {
		const values = frame.get(channel);
		if (!values || isNarrowband(channel, vehicle)) continue;
		const site = siteOf(channel, vehicle);
		if (site.startsWith('cyl') || (site === 'bank2' && banks === 1)) continue;
		const moved = aligned(values, frame.timeS, lagS);
		for (let i = 0; i < moved.length; i++) if (hidden[i]) moved[i] = Number.NaN;
		all.push({ channel, site, values: moved });
	}
	const collector = all.filter((s) => s.site === 'collector');
	const own = [1, 2].slice(0, banks).map((b) => all.filter((s) => s.site === `bank${b}`));
	// One bank seen and the other not, or none: the common pipe is all there is for a bank without its own sensor.
	const sources = own.map((list) => (list.length ? list : collector));
	const disagreementPct: number[] = [];
	const values = sources.map((list, b) => {
		const { values: v, pct } = combine(list, segments, profile);
		disagreementPct[b] = pct;
		return v;
	});
	return {
		banks: values,
		sources,
		shared: own.every((list) => list.length === 0) && collector.length > 0 && banks === 2,
		disagreementPct,
		lagS
	};
}

function combine(
	list: LambdaSource[],
	segments: Segments,
	profile: Profile
): { values: Float32Array | null; pct: number } {
	const [first, ...rest] = list;
	if (!first) return { values: null, pct: Number.NaN };
	if (rest.length === 0) return { values: first.values, pct: Number.NaN };
	const n = first.values.length;
	const spread: number[] = [];
	const loaded: number[] = [];
	for (let i = 0; i < n; i++) {
		if (segments.flags[i]! & NO_MIXTURE) continue;
		let low = Infinity;
		let high = -Infinity;
		for (const s of list) {
			const v = s.values[i]!;
			if (v !== v) continue;
			low = Math.min(low, v);
			high = Math.max(high, v);
		}
		if (!(high > low)) continue;
		spread.push(high / low - 1);
		if (segments.flags[i]! & FLAG.loaded) loaded.push(high / low - 1);
	}
	const pct = 100 * median(loaded.length >= 20 ? loaded : spread);
	const agree = pct <= profile.sensorAgreePct;
	const out = new Float32Array(n);
	for (let i = 0; i < n; i++) {
		let sum = 0;
		let count = 0;
		let leanest = Number.NaN;
		for (const s of list) {
			const v = s.values[i]!;
			if (v !== v) continue;
			sum += v;
			count++;
			if (!(v <= leanest)) leanest = v;
		}
		out[i] = count === 0 ? Number.NaN : agree ? sum / count : leanest;
	}
	return { values: out, pct };
}
