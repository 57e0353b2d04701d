/**
 * Which way a knock channel counts. Loggers write timing that the knock system pulled as positive or as negative numbers, and some systems add
 * timing in the same channel. What base and final timing say decides, where both are logged; without them a channel that never rises above zero
 * is taken for retard written as a negative correction, and one with both signs for pulled below and added above zero.
 */
import { line } from '../stats/stats.ts';

/** The channel goes along with base less final timing from here on; both are own choice. */
const ALONG = 0.8;
const SLOPE: readonly [number, number] = [0.7, 1.3];
/** Samples this long before and after the channel moved are looked at: other corrections are about the same there, s. */
const AROUND_S = 1;
const LEAST_SAMPLES = 10;
const MOVED_DEG = 0.1;

/** Units under which a person's answer is kept for this logger: which numbers of it are timing that was pulled. */
export const PULLED_WHERE = {
	negative: '° pulled where negative',
	positive: '° pulled where positive'
} as const;

/** Values on their clock, seconds. */
interface Clocked {
	timeS: Float64Array;
	values: Float32Array;
}

export interface Oriented {
	/** Positive = pulled. */
	retard: Float32Array;
	/** Timing that the knock system added; `null` where it never did. */
	advance: Float32Array | null;
	/** What was done, in words; empty where nothing was. */
	note: string;
}

/** Values of a channel on another clock, each the last one at or before. */
function onClock(channel: Clocked, timeS: Float64Array): Float32Array {
	if (channel.timeS === timeS) return channel.values;
	const out = new Float32Array(timeS.length).fill(Number.NaN);
	let k = -1;
	for (let i = 0; i < timeS.length; i++) {
		while (k + 1 < channel.timeS.length && channel.timeS[k + 1]! <= timeS[i]!) k++;
		if (k >= 0) out[i] = channel.values[k]!;
	}
	return out;
}

/**
 * +1 where positive values are timing that was pulled, −1 where negative ones are; 0 where base and final timing don't say.
 * @param values of the knock channel, in degrees @param timeS their clock
 */
export function signByTiming(
	values: Float32Array,
	timeS: Float64Array,
	base: Clocked | undefined,
	final: Clocked | undefined
): 1 | -1 | 0 {
	if (!base || !final) return 0;
	const [from, to] = [onClock(base, timeS), onClock(final, timeS)];
	const [own, pulled]: [number[], number[]] = [[], []];
	let last = -Infinity;
	let next = 0;
	for (let i = 0; i < values.length; i++) {
		if (Math.abs(values[i]!) >= MOVED_DEG) last = timeS[i]!;
		if (next < i) next = i;
		while (next < values.length && !(Math.abs(values[next]!) >= MOVED_DEG)) next++;
		const near =
			timeS[i]! - last <= AROUND_S || (next < values.length && timeS[next]! - timeS[i]! <= AROUND_S);
		const d = from[i]! - to[i]!;
		if (!near || d !== d || values[i] !== values[i]) continue;
		own.push(values[i]!);
		pulled.push(d);
	}
	if (own.length < LEAST_SAMPLES) return 0;
	const { r, slope } = line(pulled, own);
	if (!(Math.abs(r) > ALONG) || Math.abs(slope) < SLOPE[0] || Math.abs(slope) > SLOPE[1]) return 0;
	return slope > 0 ? 1 : -1;
}

function parts(values: Float32Array, sign: 1 | -1): { retard: Float32Array; advance: Float32Array } {
	const part = (by: number) => values.map((v) => (v !== v ? v : Math.max(0, by * v)));
	return { retard: part(sign), advance: part(-sign) };
}

/**
 * @param sign what base and final timing or a person say, 0 where neither does
 * @param bounds lowest and highest value
 * @param answered whether it was a person
 */
export function oriented(
	values: Float32Array,
	sign: 1 | -1 | 0,
	{ min, max }: { min: number; max: number },
	answered = false
): Oriented {
	if (sign !== 0) {
		const { retard, advance } = parts(values, sign);
		const adds = sign > 0 ? min < 0 : max > 0;
		const pulls = sign > 0 ? max > 0 : min < 0;
		const by = answered ? 'as was answered' : 'by base and final timing';
		const note = adds
			? `${by}: ${sign > 0 ? 'positive' : 'negative'} = pulled, ${sign > 0 ? 'negative' : 'positive'} = added`
			: sign < 0
				? `sign flipped ${by}: positive = pulled`
				: '';
		return {
			retard,
			advance: adds ? advance : null,
			note: adds && !pulls ? `${by}: the knock system adds timing and pulled none` : note
		};
	}
	if (!(min < 0)) return { retard: values, advance: null, note: '' };
	const { retard, advance } = parts(values, -1);
	return max <= 0
		? { retard, advance: null, note: 'sign flipped: positive = pulled' }
		: { retard, advance, note: 'both signs: negative part read as retard, positive part as advance' };
}
