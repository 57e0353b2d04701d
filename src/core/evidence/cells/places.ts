/**
 * Decided where it happens: means over 500 rpm of one band of load, with what is certain of them. The error of a mean is that of its
 * independent moments, not of its samples: σ √(T / time), with σ and the integral time scale T of the scatter pooled over the band.
 * Windows overlap by half, so that nothing is halved by a border that it happens to lie across.
 */
export interface Place {
	/** As in the bands that were given. */
	band: number;
	rpm: [low: number, high: number];
	mean: number;
	se: number;
	samples: number;
	seconds: number;
}

export interface PlaceInput {
	rpm: Float32Array;
	/** What is decided, NaN where it says nothing. */
	value: Float32Array;
	/** Band per sample, 255 for samples that don't count. */
	band: Uint8Array;
	timeS: Float64Array;
	dtS: Float64Array;
}

const WIDTH_RPM = 500;
const STEP_RPM = WIDTH_RPM / 2;
const LEAST_S = 0.4;
const LEAST_SAMPLES = 4;
/** Two-sided 95 % of the normal distribution. */
export const CERTAIN_SE = 1.96;
/** Scatter is correlated over no longer than this; nor is it followed over a longer gap between samples. */
const LONGEST_S = 2;
/** A correlation below this is none. */
const UNCORRELATED = 0.05;

/** Places that were driven long enough, by band and engine speed. */
export function placesOf(input: PlaceInput): Place[] {
	const there = new Uint8Array(256);
	for (let i = 0; i < input.band.length; i++) there[input.band[i]!] = 1;
	const out: Place[] = [];
	for (let band = 0; band < 255; band++) if (there[band]) out.push(...placesOfBand(input, band));
	return out;
}

function placesOfBand({ rpm, value, band: bandOf, timeS, dtS }: PlaceInput, band: number): Place[] {
	const room = new Int32Array(value.length);
	let count = 0;
	let top = 0;
	for (let i = 0; i < value.length; i++)
		if (bandOf[i] === band && value[i] === value[i] && rpm[i]! >= 0) {
			room[count++] = i;
			if (rpm[i]! > top) top = rpm[i]!;
		}
	const used = room.subarray(0, count);
	const bins = Math.floor(top / STEP_RPM) + 1;
	const sum = new Float64Array(bins);
	const n = new Int32Array(bins);
	const time = new Float64Array(bins);
	const binOf = (i: number) => Math.floor(rpm[i]! / STEP_RPM);
	for (const i of used) {
		const b = binOf(i);
		sum[b]! += value[i]!;
		n[b]!++;
		time[b]! += dtS[i]!;
	}
	const residual = new Float64Array(count);
	for (let k = 0; k < count; k++) {
		const i = used[k]!;
		residual[k] = value[i]! - sum[binOf(i)]! / n[binOf(i)]!;
	}
	const { sigma, scaleS } = scatter(
		residual,
		used,
		timeS,
		dtS,
		n.reduce((c, v) => c + (v > 0 ? 1 : 0), 0)
	);
	const out: Place[] = [];
	for (let b = 0; b < bins; b++) {
		// The last half window alone is a whole one's end, not a place of its own.
		const samples = n[b]! + (n[b + 1] ?? 0);
		const seconds = time[b]! + (time[b + 1] ?? 0);
		if (samples < LEAST_SAMPLES || seconds < LEAST_S - 1e-9) continue;
		out.push({
			band,
			rpm: [b * STEP_RPM, b * STEP_RPM + WIDTH_RPM],
			mean: (sum[b]! + (sum[b + 1] ?? 0)) / samples,
			se: sigma * Math.sqrt(Math.max(scaleS, seconds / samples) / seconds),
			samples,
			seconds
		});
	}
	return out;
}

/**
 * Standard deviation of residuals and the time over which they hang together, by their autocorrelation up to where it has died out.
 * @param residual one per entry of `used`, the samples of the log that they belong to
 */
function scatter(
	residual: Float64Array,
	used: Int32Array,
	timeS: Float64Array,
	dtS: Float64Array,
	means: number
): { sigma: number; scaleS: number } {
	const count = residual.length;
	let squares = 0;
	let total = 0;
	for (let k = 0; k < count; k++) {
		squares += residual[k]! * residual[k]!;
		total += dtS[used[k]!]!;
	}
	if (count - means < 2 || !(squares > 0)) return { sigma: 0, scaleS: 0 };
	const step = total / count;
	let sum = 1;
	for (let lag = 1; lag * step <= LONGEST_S && lag < count; lag++) {
		const longest = (lag + 0.5) * step * 1.2;
		let product = 0;
		let pairs = 0;
		for (let k = lag; k < count; k++) {
			// Only within one stretch: across a gap nothing hangs together.
			if (timeS[used[k]!]! - timeS[used[k - lag]!]! > longest) continue;
			product += residual[k]! * residual[k - lag]!;
			pairs++;
		}
		if (pairs < LEAST_SAMPLES) break;
		const rho = product / pairs / (squares / count);
		if (rho < UNCORRELATED) break;
		sum += 2 * rho;
	}
	return { sigma: Math.sqrt(squares / (count - means)), scaleS: sum * step };
}

/** What is certainly beyond zero of an estimate: its 95 % bound nearer to zero, with its sign; 0 where that reaches zero. */
export function certainly({ mean, se }: Pick<Place, 'mean' | 'se'>): number {
	return Math.sign(mean) * Math.max(0, Math.abs(mean) - CERTAIN_SE * se);
}
