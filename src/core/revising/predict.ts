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
import type { Calibration } from '../calibration/document.ts';
import { findItem } from '../calibration/lookup.ts';
import { deadTimeAlong, fuelRatio, otherInjectors, timingAlong } from '../calibration/fuel-along.ts';
import { actsOn, adjusting, titleOf } from '../calibration/items.ts';
import { InputError } from '../input-error.ts';
import { derived } from '../logfile/columns.ts';
import type { Frame } from '../logfile/frame.ts';

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

/**
 * What the log of `input`, made with `now`, would have shown with `next` at every sample.
 * @throws InputError when mixture, target or the channels of the fuel tables aren't in the log
 */
export function predict(input: Prepared, now: Calibration, next: Calibration): Predicted {
	const { frame, segments, required, target, vehicle } = input;
	const baro = segments.baroKpa;
	const stated = vehicle.injectors?.deadTimeMs ?? [];
	const fuel = fuelRatio(frame, now, next, stated, baro);
	if (!target.values) throw new InputError('the lambda target is neither logged nor in the calibration');
	if (!fuel && compare(now, next).changes.some((c) => actsOn(c.item, 'fuel', 'target')))
		throw new InputError(
			'the log lacks the channels that the fuel tables are read by: what changed in them cannot be replayed'
		);
	refuseUnseen(frame, now, next, baro);
	const n = frame.length;
	const banks = required.banks.filter((k): k is Float32Array => k !== null);
	if (banks.length === 0) throw new InputError('no lambda reading is logged');
	const nan = () => new Float32Array(n).fill(Number.NaN);
	const pulses = frame.first('pw.b1', 'pw.b2');
	const deadNow = deadTimeAlong(frame, now, stated, baro);
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
		const ratio = fuel ? fuel.ratio[i]! : 1;
		const goal = target.values[i]!;
		const goalAfter = fuel ? goal * fuel.targetRatio[i]! : goal;
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
		// With other injectors their own dead time comes with them.
		const dead = otherInjectors(now, next) === null ? deadNow : deadTimeAlong(frame, next, stated, baro);
		out.dutyAfter = derived(duty, (d, i) => {
			const pw = pulses ? pulses[i]! : Number.NaN;
			const pulse = fuel ? fuel.pulse[i]! : 1;
			return pw > 0 ? (d * (Math.max(0, pw - deadNow[i]!) * pulse + Math.min(pw, dead[i]!))) / pw : d * pulse;
		});
	}
	return out;
}
