/**
 * Prediction sample by sample: what the engine needed is known from the required correction; the fuel that another revision gives there
 * says what mixture comes out, with trims at zero. Timing moves by the difference of the tables, duty with the fuel.
 *
 * Predicted lambda = old target × k × (fuel old / fuel new), fuel by the fuel model's own equation along the log.
 */
import { dutyFromPulse } from '../evidence/duty.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { along } from '../calibration/along.ts';
import { compare, sameItem } from '../calibration/compare.ts';
import { findItem, numberOf, type Calibration } from '../calibration/document.ts';
import { cylinderFactor, mapScalingKpa, trimFactor } from '../calibration/effective-fuel.ts';
import { actsOn, adjusting, titleOf } from '../calibration/items.ts';
import { InputError } from '../input-error.ts';
import { derived } from '../logfile/columns.ts';
import type { Frame } from '../logfile/frame.ts';
import { median } from '../stats/stats.ts';

export interface Predicted {
	/** Lambda of each bank that was seen, at the moment of combustion, trims at zero. */
	lambdaBefore: Float32Array[];
	lambdaAfter: Float32Array[];
	targetBefore: Float32Array;
	targetAfter: Float32Array;
	/** Required correction left over with the new revision, mean of banks, 1 = right. */
	left: Float32Array;
	fuelRatio: Float32Array;
	sparkBefore: Float32Array | null;
	sparkAfter: Float32Array | null;
	dutyBefore: Float32Array | null;
	dutyAfter: Float32Array | null;
}

/** Relative fuel along a log by the model's own equation; only ratios between calibrations of one model mean anything. */
function fuelAlong(frame: Frame, c: Calibration, baroKpa: number): Float32Array | null {
	const model = c.fuelModel;
	const base = along(frame, c, model === 'maf' ? 'maf.curve' : 'fuel.table', baroKpa);
	if (!base) return null;
	const target = model === 'pulse-width' ? null : along(frame, c, 'lambda.target', baroKpa);
	const map = frame.get('map');
	const scaling = model === 'pulse-width' ? mapScalingKpa(c) : null;
	const reference = model === 'pulse-width' ? (numberOf(c, 'fuel.referencePulse') ?? 1) : 1;
	// A computed pulse is mass over the flow that the revision believes in: another flow is another mass from the same injector.
	const flow = model === 'pulse-width' ? 1 : (numberOf(c, 'injector.flow') ?? 1);
	const factor = (reference * trimFactor(c) * cylinderFactor(c)) / flow;
	const shares = adjusting('fuel').flatMap((id) => along(frame, c, id, baroKpa) ?? []);
	const out = new Float32Array(frame.length);
	for (let i = 0; i < out.length; i++) {
		let f = base[i]! * factor;
		for (const share of shares) f *= 1 + share[i]! / 100;
		if (target) f /= target[i]!;
		if (scaling && map) f *= map[i]! / scaling;
		out[i] = f;
	}
	return out;
}

/** Timing that a revision asks for along a log: the table, and what is added to it by other channels. */
function timingAlong(frame: Frame, c: Calibration, baroKpa: number): Float32Array | null {
	const table = along(frame, c, 'spark.table', baroKpa);
	if (!table) return null;
	const added = adjusting('timing').flatMap((id) => along(frame, c, id, baroKpa) ?? []);
	return added.reduce((sum, more) => derived(sum, (v, i) => v + more[i]!), table);
}

/** @throws InputError where a curve that is read along the log was changed, and its channel isn't in the log */
function refuseUnseen(frame: Frame, now: Calibration, next: Calibration, baroKpa: number): void {
	for (const id of [...adjusting('fuel'), ...adjusting('timing')])
		for (const c of [now, next])
			if (
				findItem(c, id) &&
				!along(frame, c, id, baroKpa) &&
				!sameItem(findItem(now, id), findItem(next, id))
			)
				throw new InputError(
					`the log lacks the channel that "${titleOf({ id })}" is read by: what changed in it cannot be replayed`
				);
}

/** Dead time that a revision adds to every pulse, ms; 0 where it doesn't say. */
function deadTimeAlong(
	frame: Frame,
	c: Calibration,
	fallback: readonly (readonly [number, number])[],
	baroKpa: number
): Float32Array {
	const own = along(frame, c, 'injector.deadTime', baroKpa);
	if (own) return own;
	const at = fallback.length ? median(fallback.map((d) => d[1])) : 0;
	return new Float32Array(frame.length).fill(at);
}

/**
 * What the log of `input`, made with `now`, would have shown with `next` at every sample.
 * @throws InputError when mixture, target or the channels of the fuel tables aren't in the log
 */
export function predict(input: Prepared, now: Calibration, next: Calibration): Predicted {
	const { frame, segments, required, target, vehicle } = input;
	const baro = segments.baroKpa;
	const fuelNow = fuelAlong(frame, now, baro);
	const fuelNext = fuelAlong(frame, next, baro);
	if (!target.values) throw new InputError('the lambda target is neither logged nor in the calibration');
	if (!(fuelNow && fuelNext) && compare(now, next).changes.some((c) => actsOn(c.item, 'fuel', 'target')))
		throw new InputError(
			'the log lacks the channels that the fuel tables are read by: what changed in them cannot be replayed'
		);
	refuseUnseen(frame, now, next, baro);
	const n = frame.length;
	const goalNow = along(frame, now, 'lambda.target', baro);
	const goalNext = along(frame, next, 'lambda.target', baro);
	const banks = required.banks.filter((k): k is Float32Array => k !== null);
	if (banks.length === 0) throw new InputError('no lambda reading is logged');
	const nan = () => new Float32Array(n).fill(Number.NaN);
	const pulses = frame.first('pw.b1', 'pw.b2');
	const stated = vehicle.injectors?.deadTimeMs ?? [];
	const deadNow = deadTimeAlong(frame, now, stated, baro);
	const deadNext = deadTimeAlong(frame, next, stated, baro);
	const out: Predicted = {
		lambdaBefore: banks.map(nan),
		lambdaAfter: banks.map(nan),
		targetBefore: target.values,
		targetAfter: nan(),
		left: nan(),
		fuelRatio: nan(),
		sparkBefore: frame.first('spark', 'sparkBase'),
		sparkAfter: null,
		dutyBefore: dutyFromPulse(input) ?? frame.get('injDuty'),
		dutyAfter: null
	};
	for (let i = 0; i < n; i++) {
		let ratio = fuelNow && fuelNext ? fuelNext[i]! / fuelNow[i]! : 1;
		// Another dead time with the same injector: what is added to the pulse and not needed is fuel.
		const open = pulses ? pulses[i]! - deadNow[i]! : Number.NaN;
		if (open > 0.2 && deadNext[i] !== deadNow[i]) ratio = (open * ratio + deadNext[i]! - deadNow[i]!) / open;
		const goal = target.values[i]!;
		const goalAfter = goalNow && goalNext ? goal * (goalNext[i]! / goalNow[i]!) : goal;
		out.targetAfter[i] = goalAfter;
		out.fuelRatio[i] = ratio;
		let sum = 0;
		let seen = 0;
		for (const [b, k] of banks.entries()) {
			const v = k[i]!;
			if (v !== v) continue;
			out.lambdaBefore[b]![i] = goal * v;
			out.lambdaAfter[b]![i] = (goal * v) / ratio;
			sum += (goal * v) / ratio / goalAfter;
			seen++;
		}
		if (seen) out.left[i] = sum / seen;
	}
	const sparkNow = timingAlong(frame, now, baro);
	const sparkNext = timingAlong(frame, next, baro);
	if (out.sparkBefore && sparkNow && sparkNext)
		out.sparkAfter = derived(out.sparkBefore, (s, i) => s + sparkNext[i]! - sparkNow[i]!);
	if (out.dutyBefore) {
		const duty = out.dutyBefore;
		out.dutyAfter = derived(duty, (d, i) => {
			const pw = pulses ? pulses[i]! : Number.NaN;
			const share = pw > 0 ? Math.max(0, pw - deadNow[i]!) / pw : 1;
			return d * (share * out.fuelRatio[i]! + (1 - share));
		});
	}
	return out;
}
