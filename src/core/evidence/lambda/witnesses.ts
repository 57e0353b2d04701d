/**
 * Who saw which gas: lambda sources as witnesses. The controller's own sensors together are one witness, each independent instrument
 * another; a narrowband sensor is none. Witnesses are compared on a common path of the gas, while loaded, by 500 rpm.
 */
import { CHANNELS } from '../../channels/canonical.ts';
import { uncapital } from '../../format.ts';
import { FLAG } from '../segments/kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Segments } from '../segments/segments.ts';
import { median, theilSen } from '../../stats/stats.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import type { LagEstimate } from './lag-estimate.ts';

export interface LambdaSource {
	channel: string;
	site: string;
	/** The channel's values at the moment of combustion. */
	values: Float32Array;
	/** How late this source answers, and how well this log tells. */
	lag: LagEstimate;
}

export interface Witness {
	/** `factory`, or the channel of the instrument. */
	id: string;
	channels: string[];
	/** At the moment of combustion; NaN where nothing valid was seen. */
	values: Float32Array;
}

export interface GasPath {
	/** Bank whose gas it is; 0 for all of the engine. */
	bank: 0 | 1 | 2;
	witnesses: Witness[];
}

export interface Pair {
	a: Witness;
	b: Witness;
	/** Median of a / b − 1 in the worst bin of 500 rpm, percent, and over all loaded samples. */
	worstPct: number;
	medianPct: number;
	/** Lower end of the worst bin, rpm. */
	rpm: number;
}

const BIN_RPM = 500;
const BIN_S = 0.5;

export function kindOf(channel: string, vehicle: Vehicle): 'factory' | 'independent' | 'narrowband' {
	const stated = vehicle.sensors?.lambda?.find((s) => s.channel === channel)?.kind;
	if (stated) return stated === 'dyno' ? 'independent' : stated;
	return channel === 'lambda.b1' || channel === 'lambda.b2' ? 'factory' : 'independent';
}

/** Whether sensors are compensated for exhaust pressure: `true` and `false` only where it is said of every one, else `null`. */
export function compensated(sources: readonly { channel: string; vehicle: Vehicle }[]): boolean | null {
	const said = sources.map(
		({ channel, vehicle }) => vehicle.sensors?.lambda?.find((l) => l.channel === channel)?.pressureCompensated
	);
	if (said.every((v) => v === true)) return true;
	return said.every((v) => v === false) ? false : null;
}

/** Mean of what is there, sample by sample; of one column that column itself. */
export function meanOf(list: readonly Float32Array[]): Float32Array {
	if (list.length === 1) return list[0]!;
	const out = new Float32Array(list[0]!.length);
	for (let i = 0; i < out.length; i++) {
		let sum = 0;
		let n = 0;
		for (const v of list)
			if (v[i] === v[i]) {
				sum += v[i]!;
				n++;
			}
		out[i] = n ? sum / n : Number.NaN;
	}
	return out;
}

function witnessesOf(sources: readonly LambdaSource[], vehicle: Vehicle): Witness[] {
	const own = sources.filter((s) => kindOf(s.channel, vehicle) === 'factory');
	const others = sources.filter((s) => kindOf(s.channel, vehicle) === 'independent');
	return [
		...(own.length
			? [{ id: 'factory', channels: own.map((s) => s.channel), values: meanOf(own.map((s) => s.values)) }]
			: []),
		...others.map((s) => ({ id: s.channel, channels: [s.channel], values: s.values }))
	];
}

/** The paths on which two or more witnesses meet. */
export function gasPaths(all: readonly LambdaSource[], banks: 1 | 2, vehicle: Vehicle): GasPath[] {
	const at = (site: string) => all.filter((s) => s.site === site);
	if (banks === 1) {
		const witnesses = witnessesOf(all, vehicle);
		return witnesses.length > 1 ? [{ bank: 0, witnesses }] : [];
	}
	const paths: GasPath[] = [];
	for (const bank of [1, 2] as const) {
		const witnesses = witnessesOf(at(`bank${bank}`), vehicle);
		if (witnesses.length > 1) paths.push({ bank, witnesses });
	}
	const collector = witnessesOf(at('collector'), vehicle);
	const own = [at('bank1'), at('bank2')].map((list) =>
		list.filter((s) => kindOf(s.channel, vehicle) === 'factory')
	);
	// The common pipe carries the mean of the banks: comparable only where both were seen.
	if (collector.length > 0 && own.every((list) => list.length > 0)) {
		const sides = own.map((list) => meanOf(list.map((s) => s.values)));
		const values = new Float32Array(sides[0]!.length);
		for (let i = 0; i < values.length; i++) values[i] = (sides[0]![i]! + sides[1]![i]!) / 2;
		collector.unshift({ id: 'factory', channels: own.flat().map((s) => s.channel), values });
	}
	if (collector.length > 1) paths.push({ bank: 0, witnesses: collector });
	return paths;
}

/** Compares two witnesses while loaded; `null` where no bin of 500 rpm has half a second of both. */
export function compareWitnesses(a: Witness, b: Witness, frame: Frame, segments: Segments): Pair | null {
	const rpm = frame.get('rpm');
	if (!rpm) return null;
	const bins = new Map<number, number[]>();
	const all: number[] = [];
	for (let i = 0; i < frame.length; i++) {
		if (!(segments.flags[i]! & FLAG.loaded) || segments.flags[i]! & FLAG.transient) continue;
		const d = 100 * (a.values[i]! / b.values[i]! - 1);
		if (d !== d) continue;
		all.push(d);
		const bin = Math.floor(rpm[i]! / BIN_RPM);
		const list = bins.get(bin);
		if (list) list.push(d);
		else bins.set(bin, [d]);
	}
	const least = Math.max(3, Math.ceil(BIN_S / frame.stepS));
	let worst: { pct: number; bin: number } | null = null;
	for (const [bin, list] of bins) {
		if (list.length < least) continue;
		const pct = median(list);
		if (!worst || Math.abs(pct) > Math.abs(worst.pct)) worst = { pct, bin };
	}
	return worst ? { a, b, worstPct: worst.pct, medianPct: median(all), rpm: worst.bin * BIN_RPM } : null;
}

/** How the difference of two witnesses moves over the log while loaded, in points per ten minutes; NaN where it can't be told. */
export function driftOf(a: Witness, b: Witness, frame: Frame, segments: Segments): number {
	const x: number[] = [];
	const y: number[] = [];
	for (let i = 0; i < frame.length; i++) {
		if (!(segments.flags[i]! & FLAG.loaded)) continue;
		const d = 100 * (a.values[i]! / b.values[i]! - 1);
		if (d === d) {
			x.push(frame.timeS[i]! / 600);
			y.push(d);
		}
	}
	return x.length > 50 && x.at(-1)! - x[0]! > 0.1 ? theilSen(x, y) : Number.NaN;
}

export function pairsOf(path: GasPath, frame: Frame, segments: Segments): Pair[] {
	const out: Pair[] = [];
	for (let i = 0; i < path.witnesses.length; i++)
		for (let k = i + 1; k < path.witnesses.length; k++) {
			const pair = compareWitnesses(path.witnesses[i]!, path.witnesses[k]!, frame, segments);
			if (pair) out.push(pair);
		}
	return out;
}

/** A witness in words: the controller's own sensors together, or an instrument by the title of its channel. */
export const witnessName = (witness: string): string =>
	witness === 'factory'
		? "the controller's own"
		: `the ${uncapital(CHANNELS.get(witness)?.title ?? witness)}`;
