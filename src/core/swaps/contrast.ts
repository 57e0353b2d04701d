/** The quantity that a swap test follows: how much more fuel one gas path wants than the other, with what its trims give counted in. */
import { derived } from '../logfile/columns.ts';
import { cylinderTrims, trimAlong } from '../calibration/cylinder-trims.ts';
import { loadBands } from '../evidence/cells/load-bands.ts';
import { aligned } from '../evidence/lambda/lag.ts';
import { usable } from '../evidence/lambda/required.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { cylindersByBank } from '../vehicle/facts.ts';
import { LoopState } from './loop.ts';

/** A quantity per sample, or why there is none. */
export type Contrast = { values: Float32Array } | { missing: string };

/** Factor of the fuel trim of a cylinder at each sample, by the calibration that a log was made with; 1 where it has none. */
function trimFactor(input: Prepared, cylinder: number): (sample: number) => number {
	const trims = input.calibration && cylinderTrims(input.calibration, 'fuel.cylTrim');
	if (!trims) return () => 1;
	const pct = trimAlong(trims, input.frame, input.segments.baroKpa, cylinder);
	return (i) => 1 + pct(i) / 100;
}

/** Mean factor of the cylinder trims of a bank at each sample. */
function bankFactor(input: Prepared, bank: number): (sample: number) => number {
	const members = cylindersByBank(input.vehicle)?.[bank]?.map((c) => trimFactor(input, c));
	if (!members?.length) return () => 1;
	return (i) => members.reduce((s, factor) => s + factor(i), 0) / members.length;
}

/** ln(k of bank 2 / k of bank 1); k counts closed-loop and learned trims and the bank's mean cylinder trim. */
export function betweenBanks(input: Prepared): Contrast {
	const [k1, k2] = input.required.banks;
	if (input.believed.shared || !input.believed.banks[0] || !input.believed.banks[1])
		return { missing: 'there is no lambda reading of each bank' };
	if (!input.target.values) return { missing: 'the lambda target is not known' };
	const [first, second] = [bankFactor(input, 0), bankFactor(input, 1)];
	const values = new Float32Array(input.frame.length);
	const dark = bandsOfUnknownTrims(input);
	const bands = loadBands(input);
	let known = 0;
	for (let i = 0; i < values.length; i++) {
		values[i] = dark.has(bands[i]!) ? Number.NaN : Math.log((k2![i]! * second(i)) / (k1![i]! * first(i)));
		if (usable(input.segments, i) && Number.isFinite(values[i]!)) known++;
		else values[i] = Number.NaN;
	}
	if (known > 0) return { values };
	const unlogged = [1, 2].find((b) => !input.frame.has(`stft.b${b}`) && input.frame.has(`stft.b${3 - b}`));
	return {
		missing: unlogged
			? `the trims of bank ${unlogged} are not logged while the loop is closed`
			: 'no usable sample has both banks'
	};
}

/** A correction smaller than this is none. */
const AT_WORK_PCT = 0.5;
/** A loop that corrects for this share of a band works in it; what passes through zero meanwhile is no open loop. */
const AT_WORK_SHARE = 0.05;

/** Bands of load in which the loop or a learned trim of one bank acts while those of the other bank aren't logged: nothing is known of it there. */
function bandsOfUnknownTrims(input: Prepared): Set<number> {
	const { frame } = input;
	const out = new Set<number>();
	const bands = loadBands(input);
	for (const trim of ['stft', 'ltft']) {
		const [one, two] = [frame.get(`${trim}.b1`), frame.get(`${trim}.b2`)];
		if ((one === null) === (two === null)) continue;
		const logged = (one ?? two)!;
		const count = new Map<number, { all: number; working: number }>();
		for (let i = 0; i < bands.length; i++) {
			const c = count.get(bands[i]!) ?? { all: 0, working: 0 };
			c.all++;
			if (Math.abs(logged[i]!) > AT_WORK_PCT) c.working++;
			count.set(bands[i]!, c);
		}
		for (const [band, c] of count) if (c.working > AT_WORK_SHARE * c.all) out.add(band);
	}
	return out;
}

/** ln(k of the second cylinder / k of the first), each against the median of all but the two, which cancels between them. */
export function betweenCylinders(input: Prepared, [first, second]: readonly [number, number]): Contrast {
	const a = perCylinder(input, first);
	const b = perCylinder(input, second);
	const unlogged = [first, second].filter((_, i) => (i ? b : a) === null);
	if (!a || !b) return { missing: `lambda of cylinder ${unlogged.join(' and ')} is not logged` };
	const values = new Float32Array(input.frame.length);
	for (let i = 0; i < values.length; i++) {
		values[i] = usable(input.segments, i) ? b[i]! - a[i]! : Number.NaN;
		if (!Number.isFinite(values[i]!)) values[i] = Number.NaN;
	}
	return { values };
}

/** ln(k) of a cylinder but for what all cylinders of its bank share; `null` where it isn't logged. */
function perCylinder(input: Prepared, cylinder: number): Float32Array | null {
	const { frame, believed } = input;
	const raw = frame.get(`lambda.cyl${cylinder}`);
	if (!raw) return null;
	const lambda = aligned(raw, frame.timeS, believed.lagS);
	const bank = (cylindersByBank(input.vehicle) ?? []).findIndex((b) => b.includes(cylinder));
	const loop = new LoopState(input, Math.max(0, bank));
	const factor = trimFactor(input, cylinder);
	return derived(lambda, (l, i) =>
		l > 0 && !believed.hidden[i] ? Math.log(l * loop.factor(i) * factor(i)) : Number.NaN
	);
}
