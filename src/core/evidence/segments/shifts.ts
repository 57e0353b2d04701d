/**
 * Gear changes: the engine leaves one gear's speed for another's. A logged gear turns over at the beginning, in the middle or at the end of
 * that, at any rate from 5 to 100 Hz: so the change is where the engine speed falls (or rises, changing down) around it, within 0.8 s.
 */
import type { Run } from '../../stats/runs.ts';

export interface GearChange extends Run {
	/** Gear that was left and the one that came; 0 where neither is known. */
	gear: number;
	toGear: number;
}

const SHIFT_S = 0.8;
/** Neighbouring gears of a close box are 6 % apart; less than this is no change of gear. */
const LEAST = 0.04;
/** Numbers that turn over one after the other this close belong to one change: a gear that is passed through. */
const TOGETHER_S = 0.6;
/** A gear that nobody knows for longer than this is no shift but a stop in neutral. */
const UNKNOWN_S = 2.5;
const WIDER_BEFORE_S = 0.1;
const WIDER_AFTER_S = 0.25;

export function gearChanges(
	rpm: Float32Array,
	gear: Int8Array | null,
	throttle: Float32Array | null,
	t: Float64Array
): GearChange[] {
	return gear ? byGear(rpm, gear, t) : byFall(rpm, throttle, t);
}

/** Where the number of the gear turns over, several close together as one. */
function turnovers(gear: Int8Array, t: Float64Array): { last: number; first: number }[] {
	const out: { last: number; first: number }[] = [];
	let last = -1;
	for (let i = 0; i < gear.length; i++) {
		if (gear[i]! <= 0) continue;
		if (last >= 0 && gear[i] !== gear[last] && t[i]! - t[last]! <= UNKNOWN_S) {
			const before = out.at(-1);
			if (before && t[last]! - t[before.first]! <= TOGETHER_S && gear[before.last] !== gear[i])
				before.first = i;
			else out.push({ last, first: i });
		}
		last = i;
	}
	return out;
}

function byGear(rpm: Float32Array, gear: Int8Array, t: Float64Array): GearChange[] {
	const out: GearChange[] = [];
	for (const { last, first } of turnovers(gear, t)) {
		const up = gear[first]! > gear[last]!;
		// The highest speed around the turnover, then the lowest after it; changing down the other way round.
		const sign = up ? 1 : -1;
		let top = last;
		for (let i = last; i >= 0 && t[last]! - t[i]! <= SHIFT_S; i--)
			if (sign * rpm[i]! > sign * rpm[top]!) top = i;
		for (let i = last; i < rpm.length && t[i]! - t[first]! <= SHIFT_S; i++)
			if (sign * rpm[i]! > sign * rpm[top]!) {
				// Beyond the turnover only while it hasn't fallen yet: later it climbs in the next gear.
				if (fallen(rpm, top, i, sign)) break;
				top = i;
			}
		let end = top;
		for (let i = top; i < rpm.length && t[i]! - t[top]! <= Math.max(SHIFT_S, t[first]! - t[top]! + 0.2); i++)
			if (sign * rpm[i]! < sign * rpm[end]!) end = i;
		if (!(Math.abs(rpm[end]! / rpm[top]! - 1) > LEAST)) continue;
		out.push({
			...widened({ from: Math.min(top, first), to: Math.max(end, first) }, t, WIDER_BEFORE_S, WIDER_AFTER_S),
			gear: gear[last]!,
			toGear: gear[first]!
		});
	}
	return out;
}

/** Whether the engine speed has gone over by a change of gear between two samples. */
function fallen(rpm: Float32Array, top: number, to: number, sign: number): boolean {
	for (let i = top; i < to; i++) if (sign * (1 - rpm[i]! / rpm[top]!) > LEAST) return true;
	return false;
}

/** Without a gear: a fall by an eighth within the time under an open throttle. */
function byFall(rpm: Float32Array, throttle: Float32Array | null, t: Float64Array): GearChange[] {
	const out: GearChange[] = [];
	let peak = 0;
	for (let i = 1; i < rpm.length; i++) {
		while (t[i]! - t[peak]! > SHIFT_S || rpm[peak]! < rpm[i]!) {
			peak++;
			if (peak >= i) {
				peak = i;
				break;
			}
		}
		const open = throttle ? throttle[peak]! > 20 : true;
		if (open && rpm[peak]! > 2500 && rpm[i]! < rpm[peak]! * 0.875) {
			out.push({
				...widened({ from: peak, to: i }, t, WIDER_BEFORE_S / 2, WIDER_AFTER_S),
				gear: 0,
				toGear: 0
			});
			peak = i;
		}
	}
	return out;
}

function widened(run: Run, t: Float64Array, beforeS: number, afterS: number): Run {
	let { from, to } = run;
	while (from > 0 && t[run.from]! - t[from - 1]! <= beforeS) from--;
	while (to + 1 < t.length && t[to + 1]! - t[run.to]! <= afterS) to++;
	return { from, to };
}
