/**
 * Injector duty: how long the injectors are open of the time they have. Port: duty % = pulse width ms × rpm × injections / 1200.
 * Direct: pulse width against the injection window, window ms = windowDeg / (0.006 × rpm).
 */
import { derived } from '../logfile/columns.ts';
import type { Prepared } from './prepared.ts';

/** Port injection: share of the 720° cycle that the injector is open, in percent. */
export function portDutyPct(pulseMs: number, rpm: number, injectionsPerCycle: number): number {
	return (pulseMs * rpm * injectionsPerCycle) / 1200;
}

/** Direct injection: share of the window of `windowDeg` crank degrees that the pulse fills, in percent. */
export function directDutyPct(pulseMs: number, rpm: number, windowDeg: number): number {
	return (100 * pulseMs) / (windowDeg / (0.006 * rpm));
}

/** Duty from the logged pulse widths (the wider of the banks); `null` when it can't be computed. */
export function dutyFromPulse(input: Pick<Prepared, 'frame' | 'vehicle'>): Float32Array | null {
	const { frame, vehicle } = input;
	const rpm = frame.get('rpm');
	const pulses = ['pw.b1', 'pw.b2'].flatMap((id) => frame.get(id) ?? []);
	const direct = vehicle.engine.injection === 'direct';
	const windowDeg = vehicle.injectors?.windowDeg;
	if (!rpm || pulses.length === 0 || (direct && !windowDeg)) return null;
	const injections = vehicle.injectors?.injectionsPerCycle ?? 1;
	return derived(pulses.reduce(wider), (pw, i) =>
		direct ? directDutyPct(pw, rpm[i]!, windowDeg!) : portDutyPct(pw, rpm[i]!, injections)
	);
}

/** The larger of two columns sample by sample, the one that is there where the other is missing. */
export function wider(a: Float32Array, b: Float32Array): Float32Array {
	return derived(a, (v, i) => (!(b[i]! <= v) && b[i] === b[i] ? b[i]! : v));
}
