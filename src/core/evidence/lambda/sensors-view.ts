/** Every lambda source of a log over engine speed while loaded, their differences, lags and drift, and which is believed and why. */
import { FLAG } from '../segments/kinds.ts';
import type { Prepared } from '../prepared.ts';
import type { LagEstimate } from './lag-estimate.ts';
import { driftOf, kindOf, pairsOf, witnessName } from './witnesses.ts';

const BIN_RPM = 500;
/** A bin below this much time under load is left empty. */
const LEAST_S = 0.3;

export interface SensorSource {
	channel: string;
	site: string;
	kind: 'factory' | 'independent' | 'narrowband';
	/** False where the belief of its bank rests on others. */
	believed: boolean;
	lag: LagEstimate;
	/** Mean lambda per bin of engine speed; null where it saw too little. */
	lambda: (number | null)[];
}

export interface SensorPair {
	/** Witnesses: `factory`, or the channel of an instrument. */
	a: string;
	b: string;
	/** Bank whose gas both saw; 0 for all of the engine. */
	bank: number;
	medianPct: number;
	worstPct: number;
	/** Middle of the worst bin, rpm. */
	worstRpm: number;
	/** Points in ten minutes; null where the log can't tell. */
	driftPoints: number | null;
}

export interface SensorBelief {
	bank: number;
	/** Why, in words. */
	why: string;
	lambda: (number | null)[];
}

export interface SensorsView {
	/** Middles of the bins, rpm. */
	rpm: number[];
	target: (number | null)[];
	sources: SensorSource[];
	beliefs: SensorBelief[];
	pairs: SensorPair[];
}

const RULES: Record<Prepared['believed']['basis'][number]['rule'], (who: string) => string> = {
	none: () => 'nobody saw this bank',
	single: (who) => `only ${who} saw it, so it has to be believed; a second opinion is missing`,
	mean: (who) => `${who} agree, so their mean is believed`,
	outvoted: (who) => `${who} agree and outvote the rest`,
	leaner: (who) => `the sources disagree; ${who} is the leaner one and believed, and no fuel comes out there`
};

/** @returns `null` when the log has no engine speed or no lambda */
export function sensorsView(input: Prepared): SensorsView | null {
	const { frame, segments, believed, vehicle, target } = input;
	const rpm = frame.get('rpm');
	const sources = believed.all;
	if (!rpm || sources.length === 0) return null;
	let top = 0;
	for (let i = 0; i < frame.length; i++) if (segments.flags[i]! & FLAG.loaded && rpm[i]! > top) top = rpm[i]!;
	const bins = Math.floor(top / BIN_RPM) + 1;
	const first = Math.min(bins - 1, Math.floor(1500 / BIN_RPM));
	const centres = Array.from({ length: bins - first }, (_, b) => (first + b + 0.5) * BIN_RPM);
	const means = (values: Float32Array | null): (number | null)[] => {
		const sum = new Float64Array(centres.length);
		const n = new Int32Array(centres.length);
		for (let i = 0; values && i < frame.length; i++) {
			const b = Math.floor(rpm[i]! / BIN_RPM) - first;
			const v = values[i]!;
			if (!(segments.flags[i]! & FLAG.loaded) || segments.flags[i]! & FLAG.transient || v !== v || b < 0)
				continue;
			sum[b]! += v;
			n[b]!++;
		}
		return centres.map((_, b) => (n[b]! * frame.stepS >= LEAST_S ? sum[b]! / n[b]! : null));
	};
	const trusted = new Set(
		believed.basis.flatMap((basis) =>
			basis.witnesses.flatMap((w) =>
				w === 'factory'
					? sources.filter((s) => kindOf(s.channel, vehicle) === 'factory').map((s) => s.channel)
					: [w]
			)
		)
	);
	return {
		rpm: centres,
		target: means(target.values),
		sources: sources.map((s) => ({
			channel: s.channel,
			site: s.site,
			kind: kindOf(s.channel, vehicle),
			believed: trusted.has(s.channel),
			lag: s.lag,
			lambda: means(s.values)
		})),
		beliefs: believed.banks.flatMap((values, b) =>
			believed.shared && b > 0
				? []
				: [
						{
							bank: believed.banks.length === 1 || believed.shared ? 0 : b + 1,
							why: RULES[believed.basis[b]!.rule](
								believed.basis[b]!.witnesses.map(witnessName).join(' and ')
							),
							lambda: means(values)
						}
					]
		),
		pairs: believed.paths.flatMap((path) =>
			pairsOf(path, frame, segments).map((p) => {
				const drift = driftOf(p.a, p.b, frame, segments);
				return {
					a: p.a.id,
					b: p.b.id,
					bank: path.bank,
					medianPct: p.medianPct,
					worstPct: p.worstPct,
					worstRpm: p.rpm + BIN_RPM / 2,
					driftPoints: Number.isFinite(drift) ? drift : null
				};
			})
		)
	};
}
