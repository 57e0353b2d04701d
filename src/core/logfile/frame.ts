/**
 * Channels of a log side by side on one time axis, as computation needs them. The axis is that of the engine speed channel
 * (every check hangs on it), else of the fastest channel. Channels on another axis, and empty cells, are held from their last
 * sample for at most three of their own sample intervals, then missing.
 */
import type { Run } from '../stats/runs.ts';
import type { Extremes } from '../stats/stats.ts';
import { boundsOf, medianStep, type Log, type LogChannel } from './log.ts';

const HOLD_INTERVALS = 3;

/** Channels side by side, sample by sample. */
export interface Columns {
	readonly length: number;
	/** Values of channel `id`; `null` when the log doesn't have it. */
	get(id: string): Float32Array | null;
}

export class Frame implements Columns {
	readonly timeS: Float64Array;
	readonly length: number;
	/** Length of time that each sample stands for, in seconds; gaps count as the median step. */
	readonly dtS: Float64Array;
	/** Median step of the axis in seconds. */
	readonly stepS: number;
	private readonly byId: Map<string, LogChannel>;
	private readonly cache = new Map<string, { values: Float32Array; bounds: Extremes }>();

	constructor(readonly log: Log) {
		this.byId = new Map(log.channels.map((c) => [c.id, c]));
		const fastest = [...log.channels].sort((a, b) => b.rateHz - a.rateHz)[0];
		const axis = this.byId.get('rpm') ?? fastest;
		this.timeS = axis ? axis.timeS : new Float64Array(0);
		this.length = this.timeS.length;
		this.dtS = new Float64Array(this.length);
		const raw = new Float64Array(Math.max(0, this.length - 1));
		for (let i = 0; i + 1 < this.length; i++) raw[i] = this.timeS[i + 1]! - this.timeS[i]!;
		const step = medianStep(this.timeS);
		this.stepS = step > 0 ? step : 0.05;
		for (let i = 0; i < this.length; i++)
			this.dtS[i] = i < raw.length ? Math.min(raw[i]!, this.stepS * 5) : this.stepS;
	}

	has(id: string): boolean {
		return this.byId.has(id);
	}

	/** All samples, as the stretches that are looked at. */
	get whole(): readonly Run[] {
		return this.length ? [{ from: 0, to: this.length - 1 }] : [];
	}

	/** Ids of all channels, in file order. */
	get ids(): string[] {
		return [...this.byId.keys()];
	}

	/** Values of channel `id` on the frame's axis; `null` when the log doesn't have it. */
	get(id: string): Float32Array | null {
		return this.column(id)?.values ?? null;
	}

	/** Least and greatest value of channel `id` and the share that is missing; `null` when the log doesn't have it. */
	bounds(id: string): Extremes | null {
		return this.column(id)?.bounds ?? null;
	}

	/** The first of `ids` that the log has. */
	first(...ids: string[]): Float32Array | null {
		for (const id of ids) {
			const v = this.get(id);
			if (v) return v;
		}
		return null;
	}

	/** Index of the last sample at or before `t`; −1 before the first. */
	indexAt(t: number): number {
		let low = 0;
		let high = this.length;
		while (low < high) {
			const mid = (low + high) >> 1;
			if (this.timeS[mid]! <= t) low = mid + 1;
			else high = mid;
		}
		return low - 1;
	}

	/** The same channels at `samples` only, for what needs no neighbours. */
	at(samples: Int32Array): Columns {
		const cache = new Map<string, Float32Array | null>();
		const gathered = (id: string): Float32Array | null => {
			const values = this.get(id);
			if (!values) return null;
			const out = new Float32Array(samples.length);
			for (let k = 0; k < out.length; k++) out[k] = values[samples[k]!]!;
			return out;
		};
		return {
			length: samples.length,
			get: (id) => {
				if (!cache.has(id)) cache.set(id, gathered(id));
				return cache.get(id)!;
			}
		};
	}

	private column(id: string) {
		const done = this.cache.get(id);
		if (done) return done;
		const channel = this.byId.get(id);
		if (!channel) return null;
		const whole = channel.timeS === this.timeS && boundsOf(channel).missing === 0;
		const values = whole ? channel.values : this.held(channel);
		const column = { values, bounds: boundsOf({ values }) };
		this.cache.set(id, column);
		return column;
	}

	private held(channel: LogChannel): Float32Array {
		const { values, timeS } = channel;
		const hold = channel.rateHz > 0 ? HOLD_INTERVALS / channel.rateHz : 0;
		const out = new Float32Array(this.length);
		let k = -1;
		let last = Number.NaN;
		let lastT = -Infinity;
		for (let i = 0; i < this.length; i++) {
			const t = this.timeS[i]!;
			while (k + 1 < values.length && timeS[k + 1]! <= t) {
				k++;
				if (values[k] === values[k]) {
					last = values[k]!;
					lastT = timeS[k]!;
				}
			}
			out[i] = t - lastT <= hold + 1e-9 ? last : Number.NaN;
		}
		return out;
	}
}
