/** `fuel.rich`: the other side of the target while loaded, and richer than burns well at all. */
import { ofBanks, whose, type OfBanks } from '../banks.ts';
import { deviations } from '../../evidence/lambda/deviation.ts';
import { fuelStoich } from '../../vehicle/facts.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldLow, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import type { Raised } from '../types.ts';
import { marked, signed } from '../../format.ts';

const HOLD_S = 0.2;
/** Banks closer together than this share one cause. */
const SAME_CAUSE_PCT = 2;
/** Methanol and what is near it. */
const METHANOL_STOICH = 7;
const MUCH_ETHANOL_PCT = 70;

type Facts = OfBanks & {
	/** Richest that was held, against the target; absent where no target is known. */
	offPct?: number;
	/** Richer than burns well at all, and what that is. */
	lambda?: number;
	richest?: number;
};

export const fuelRich = check({
	code: 'fuel.rich',
	title: 'Rich under load',
	section: 'mixture',
	told: { fuel: { down: 'it ran richer than it has to there' } },
	units: { offPct: '%', lambda: 'λ', richest: 'λ' },
	run(input) {
		const { frame, segments, believed, profile, vehicle } = input;
		if (!frame.has('rpm')) return notChecked('engine speed is not logged', 'rpm');
		if (believed.banks.every((b) => b === null)) return notChecked('no lambda reading is logged', 'lambda');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const strong =
			(vehicle.fuel?.ethanolPct ?? 0) >= MUCH_ETHANOL_PCT || fuelStoich(vehicle) < METHANOL_STOICH;
		const richest = strong ? profile.lambdaRichestEthanol : profile.lambdaRichest;
		let seen = false;
		let least = 0;
		const banks = deviations(input).flatMap((d): Raised<Facts>[] => {
			const settled = (i: number) => d.settled[i] === d.settled[i];
			const low = heldLow(frame, d.settled, HOLD_S, segments.loaded);
			const absolute = heldLow(
				frame,
				d.lambda,
				HOLD_S,
				segments.loaded,
				(i) => settled(i) || d.absolute[i] === d.absolute[i]
			);
			if (low.at < 0 && absolute.at < 0) return [];
			const drowned = absolute.level < richest;
			const known = Number.isFinite(low.level);
			if (!known && !drowned) return [];
			seen = true;
			if (known) least = Math.min(least, low.level);
			const off = known ? -low.level : 0;
			if (!(off > profile.richWatchPct) && !drowned) return [];
			const fix = off > profile.richFixPct || drowned;
			const limit = off > profile.richFixPct ? profile.richFixPct : profile.richWatchPct;
			const bank = believed.banks.length > 1 && !believed.shared ? (d.bank as 1 | 2) : undefined;
			return [
				finding(input, {
					severity: fix ? 'fix' : 'watch',
					facts: {
						...(known ? { offPct: low.level } : {}),
						...(drowned ? { lambda: absolute.level, richest } : {})
					},
					value: known ? low.level : 100 * (absolute.level / richest - 1),
					limit: known ? -limit : 0,
					unit: '%',
					...(bank ? { bank } : {}),
					runs: stretches(
						frame,
						HOLD_S,
						(i) => d.settled[i]! < -profile.richWatchPct || (settled(i) && d.lambda[i]! < richest),
						0.1
					),
					channels: [
						...(believed.sources[d.bank - 1] ?? []).map((s) => s.channel),
						'lambda.target',
						'rpm',
						'map'
					]
				})
			];
		});
		if (!seen)
			return notChecked(
				'no settled loaded stretch with a mixture reading and a target',
				input.target.values ? 'loaded driving' : 'lambda.target'
			);
		const findings = ofBanks(banks, SAME_CAUSE_PCT);
		if (findings.length === 0) return pass(`Richest while loaded ${signed(least)} % of target.`);
		return found(...findings);
	},
	words: (f: Told<Facts>) => {
		const { offPct, lambda, richest } = f.facts;
		const target =
			offPct === undefined
				? 'No target is known.'
				: `While loaded ${whose(f, 'the mixture')} ran down to ${signed(offPct)} % of target.`;
		const drowned =
			lambda === undefined
				? ''
				: ` ${marked(lambda, 'λ', 3)} is richer than ${marked(richest!, 'λ', 2)}, which washes cylinders and misfires.`;
		return {
			title: f.facts.both
				? 'Both banks rich under load'
				: `${f.bank ? `Bank ${f.bank} rich` : 'Rich'} under load`,
			summary: target + drowned,
			causes: [
				'the fuel table asks for too much there',
				'fuel pressure above what is set',
				'a lambda sensor that reads rich (hot, or under back pressure)'
			],
			next: ['be sure of the sensor before fuel is taken out', 'take fuel out in small steps']
		};
	}
});
