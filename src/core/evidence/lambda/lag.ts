/**
 * How long the exhaust gas takes to the sensor and the sensor to answer. Transport time goes with one over the gas flow.
 * Default curve: 0.10 s at full flow, rising to 0.6 s at idle flow.
 */
const FLOOR_S = 0.08;
const PER_FLOW_S = 0.02;
const LONGEST_S = 0.6;
const SHORTEST_S = 0.1;

/** Lag in seconds at `flow`, the share of the engine's full exhaust flow (0–1). */
export function defaultLagS(flow: number): number {
	if (!(flow > 0)) return LONGEST_S;
	return Math.min(LONGEST_S, Math.max(SHORTEST_S, FLOOR_S + PER_FLOW_S / flow));
}

/**
 * Share of full flow per sample from engine speed × manifold pressure (throttle instead when there is no pressure).
 * @param fullKpa manifold pressure at full load
 */
export function flowShare(
	rpm: Float32Array,
	map: Float32Array | null,
	throttle: Float32Array | null,
	revLimitRpm: number,
	fullKpa: number
): Float32Array {
	const out = new Float32Array(rpm.length);
	for (let i = 0; i < rpm.length; i++) {
		const load = map ? map[i]! / fullKpa : throttle ? 0.2 + (0.8 * throttle[i]!) / 100 : 0.5;
		out[i] = Math.max(0, Math.min(1.2, (rpm[i]! / revLimitRpm) * load));
	}
	return out;
}

/**
 * A lambda channel moved back to the moment of combustion: out[i] is the sample nearest to t[i] + lag[i], NaN past the end of the
 * log. Samples are taken whole, not interpolated: half a sample of lag is less than anybody knows, and a short lean spell must not be
 * smeared into a longer one.
 */
export function aligned(lambda: Float32Array, timeS: Float64Array, lagS: Float32Array): Float32Array {
	const seen = seenAt(timeS, lagS);
	const out = new Float32Array(lambda.length);
	for (let i = 0; i < out.length; i++) out[i] = seen[i]! < 0 ? Number.NaN : lambda[seen[i]!]!;
	return out;
}

/** For every sample the one at which a sensor that lags by `lagS` shows its gas; −1 past the end of the log. See `aligned`. */
export function seenAt(timeS: Float64Array, lagS: Float32Array): Int32Array {
	const n = timeS.length;
	const out = new Int32Array(n);
	let k = 0;
	for (let i = 0; i < n; i++) {
		const t = timeS[i]! + lagS[i]!;
		while (k + 1 < n && timeS[k + 1]! <= t) k++;
		while (k > 0 && timeS[k]! > t) k--;
		if (k + 1 >= n) out[i] = timeS[n - 1]! >= t - 1e-6 ? n - 1 : -1;
		else out[i] = t - timeS[k]! <= timeS[k + 1]! - t ? k : k + 1;
	}
	return out;
}
