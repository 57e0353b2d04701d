/** Fuel and timing that revisions give along a log, by the fuel model's own equation. */
import type { Columns } from '../logfile/frame.ts';
import { derived } from '../logfile/columns.ts';
import { median } from '../stats/stats.ts';
import { along } from './along.ts';
import { cylinderTrims, trimAlong } from './cylinder-trims.ts';
import type { Calibration } from './document.ts';
import { numberOf } from './lookup.ts';
import { mapScalingKpa, trimFactor } from './effective-fuel.ts';
import { adjusting } from './items.ts';

/** Relative fuel along a log; only ratios between calibrations of one model mean anything. `null` where its channels aren't logged. */
export function fuelAlong(frame: Columns, c: Calibration, baroKpa: number): Float32Array | null {
	const model = c.fuelModel;
	const base = along(frame, c, model === 'maf' ? 'maf.curve' : 'fuel.table', baroKpa);
	if (!base) return null;
	const target = model === 'pulse-width' ? null : along(frame, c, 'lambda.target', baroKpa);
	const map = frame.get('map');
	const scaling = model === 'pulse-width' ? mapScalingKpa(c) : null;
	const reference = model === 'pulse-width' ? (numberOf(c, 'fuel.referencePulse') ?? 1) : 1;
	// A computed pulse is mass over the flow that the revision believes in: another flow is another mass from the same injector.
	const flow = model === 'pulse-width' ? 1 : (numberOf(c, 'injector.flow') ?? 1);
	const factor = (reference * trimFactor(c)) / flow;
	const shares = adjusting('fuel').flatMap((id) => along(frame, c, id, baroKpa) ?? []);
	const trims = cylinderTrims(c, 'fuel.cylTrim');
	const meanTrimPct = trims ? trimAlong(trims, frame, baroKpa) : () => 0;
	const out = new Float32Array(frame.length);
	for (let i = 0; i < out.length; i++) {
		let f = base[i]! * factor * (1 + meanTrimPct(i) / 100);
		for (const share of shares) f *= 1 + share[i]! / 100;
		if (target) f /= target[i]!;
		if (scaling && map) f *= map[i]! / scaling;
		out[i] = f;
	}
	return out;
}

/** Timing that a revision asks for along a log: the table, and what is added to it by other channels. */
export function timingAlong(frame: Columns, c: Calibration, baroKpa: number): Float32Array | null {
	const table = along(frame, c, 'spark.table', baroKpa);
	if (!table) return null;
	const added = adjusting('timing').flatMap((id) => along(frame, c, id, baroKpa) ?? []);
	return added.reduce((sum, more) => derived(sum, (v, i) => v + more[i]!), table);
}

/** Dead time over battery voltage, [V, ms]. */
export type DeadTimes = readonly (readonly [number, number])[];

/** Dead time that a revision adds to every pulse, ms; the median of the stated ones where it doesn't say, 0 where nobody does. */
export function deadTimeAlong(
	frame: Columns,
	c: Calibration,
	stated: DeadTimes,
	baroKpa: number
): Float32Array {
	const own = along(frame, c, 'injector.deadTime', baroKpa);
	if (own) return own;
	const at = stated.length ? median(stated.map((d) => d[1])) : 0;
	return new Float32Array(frame.length).fill(at);
}

/** A shorter pulse than this says nothing of dead time against fuel, ms. */
const SHORTEST_MS = 0.2;

/** A flow that is corrected moves by less than this; beyond it other injectors are meant. Our own choice. */
const OTHER_INJECTORS = 0.08;

/**
 * Flow of the injectors that `next` means over that of the ones that `now` means, where they are other ones; `null` where both mean the
 * same injectors, whatever small correction their data got.
 */
export function otherInjectors(now: Calibration, next: Calibration): number | null {
	const [a, b] = [numberOf(now, 'injector.flow'), numberOf(next, 'injector.flow')];
	return a && b && Math.abs(Math.log(b / a)) > OTHER_INJECTORS ? b / a : null;
}

export interface FuelRatio {
	/** Fuel that `next` gives over the fuel that `now` gave. */
	ratio: Float32Array;
	/** The same of the pulses, without dead time: other injectors give the same fuel in another time. */
	pulse: Float32Array;
	/** Target of `next` over that of `now`, by their tables; 1 where one of them has none. */
	targetRatio: Float32Array;
}

/**
 * Fuel and target of one revision against another along a log. Where `next` means other injectors, they are in the car with it: the
 * mass of fuel is compared, which a computed pulse gives whatever the flow, and a set pulse in proportion to it.
 * @param stated dead times of the vehicle, for a revision that carries none
 * @returns `null` where the channels of the fuel tables aren't logged
 */
export function fuelRatio(
	frame: Columns & { first(...ids: string[]): Float32Array | null },
	now: Calibration,
	next: Calibration,
	stated: DeadTimes,
	baroKpa: number
): FuelRatio | null {
	const fuelNow = fuelAlong(frame, now, baroKpa);
	const fuelNext = fuelAlong(frame, next, baroKpa);
	if (!fuelNow || !fuelNext) return null;
	const goalNow = along(frame, now, 'lambda.target', baroKpa);
	const goalNext = along(frame, next, 'lambda.target', baroKpa);
	const pulses = frame.first('pw.b1', 'pw.b2');
	const deadNow = deadTimeAlong(frame, now, stated, baroKpa);
	const deadNext = deadTimeAlong(frame, next, stated, baroKpa);
	const other = otherInjectors(now, next);
	const pulse = derived(fuelNext, (f, i) => f / fuelNow[i]!);
	const ratio = derived(pulse, (plain, i) => {
		if (other !== null) return plain * other;
		// Another dead time with the same injector: what is added to the pulse and not needed is fuel.
		const open = pulses ? pulses[i]! - deadNow[i]! : Number.NaN;
		return open > SHORTEST_MS && deadNext[i] !== deadNow[i]
			? (open * plain + deadNext[i]! - deadNow[i]!) / open
			: plain;
	});
	const targetRatio =
		goalNow && goalNext
			? derived(goalNext, (g, i) => g / goalNow[i]!)
			: new Float32Array(frame.length).fill(1);
	return { ratio, pulse: other === null ? ratio : pulse, targetRatio };
}
