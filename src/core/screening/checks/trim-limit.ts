/** `trim.limit`: closed loop that works hard under load, or is at its end: a fuelling fault hidden behind a good lambda. */
import { ofBanks, whose, type OfBanks } from '../banks.ts';
import { FLAG, NO_MIXTURE } from '../../evidence/segments/kinds.ts';
import { bankCount } from '../../vehicle/facts.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, heldLow, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import type { Raised } from '../types.ts';
import { signed } from '../../format.ts';

const HOLD_S = 0.4;
const FLAT_S = 1;
/** A correction that stands still is only at its end when it is a large one. */
const FLAT_FROM_PCT = 10;
const EQUAL_PCT = 0.05;
/** Banks closer together than this share one cause. */
const SAME_CAUSE_PCT = 3;

type Facts = OfBanks & {
	/** Largest correction that was held under load, where it is too large. */
	loadedPct?: number;
	/** The end at which it stood for over a second, and how often. */
	endPct?: number;
	times?: number;
};

export const trimLimit = check({
	code: 'trim.limit',
	title: 'Closed loop at its limit',
	section: 'mixture',
	units: { loadedPct: '%', endPct: '%', times: 'times' },
	run(input) {
		const { frame, segments, profile, vehicle } = input;
		const banks = Array.from({ length: bankCount(vehicle) }, (_, b) => b + 1).flatMap((bank) => {
			const stft = frame.get(`stft.b${bank}`);
			return stft ? [{ bank, stft }] : [];
		});
		if (banks.length === 0) return notChecked('closed-loop correction is not logged', 'stft.b1');
		const said: string[] = [];
		const byBank = banks.flatMap(({ bank, stft }): Raised<Facts>[] => {
			const burning = (i: number) => !(segments.flags[i]! & NO_MIXTURE);
			const high = heldHigh(frame, stft, HOLD_S, segments.loaded, burning);
			const low = heldLow(frame, stft, HOLD_S, segments.loaded, burning);
			const worst = Math.abs(low.level) > Math.abs(high.level) ? low.level : high.level;
			const under = Math.abs(worst) > profile.trimLoadedPct;
			const { min, max } = frame.bounds(`stft.b${bank}`)!;
			const end = -min > max ? min : max;
			const size = Math.abs(end);
			const atEnd = (i: number) =>
				Math.abs(stft[i]!) >= profile.stftMax - EQUAL_PCT ||
				(size >= FLAT_FROM_PCT && Math.abs(stft[i]! - end) <= EQUAL_PCT);
			const large = size >= Math.min(FLAT_FROM_PCT, profile.stftMax - EQUAL_PCT);
			const flat = large ? stretches(frame, FLAT_S, atEnd) : [];
			said.push(Number.isFinite(worst) ? `${signed(worst)} %` : 'not loaded');
			if (!under && flat.length === 0) return [];
			const level = under ? worst : end;
			return [
				finding(input, {
					severity: 'fix',
					facts: {
						...(under ? { loadedPct: worst } : {}),
						...(flat.length ? { endPct: end, times: flat.length } : {})
					},
					value: level,
					limit: under ? profile.trimLoadedPct : Math.min(profile.stftMax, Math.abs(end)),
					unit: '%',
					...(banks.length > 1 ? { bank: bank as 1 | 2 } : {}),
					runs: under
						? stretches(
								frame,
								HOLD_S,
								(i) =>
									(segments.flags[i]! & FLAG.loaded) !== 0 &&
									burning(i) &&
									Math.abs(stft[i]!) > profile.trimLoadedPct,
								0.2
							)
						: flat,
					channels: [`stft.b${bank}`, `lambda.b${bank}`, 'lambda.target', 'rpm', 'map']
				})
			];
		});
		const findings = ofBanks(byBank, SAME_CAUSE_PCT);
		if (findings.length === 0) return pass(`Largest correction under load ${said.join(', ')}.`);
		return found(...findings);
	},
	words: (f: Told<Facts>) => {
		const { loadedPct, endPct, times } = f.facts;
		const who = whose(f, 'the engine');
		return {
			title:
				loadedPct === undefined
					? `Closed loop at its end, ${signed(endPct!, 0)} %`
					: `Closed loop at ${signed(loadedPct, 0)} % under load`,
			summary: [
				...(loadedPct === undefined
					? []
					: [
							`Under load ${who} is corrected by ${signed(loadedPct)} %: a fuelling fault hidden behind a good lambda.`
						]),
				...(endPct === undefined
					? []
					: [
							`The correction of ${who} stands at its end, ${signed(endPct)} %, for ${times === 1 ? 'over a second' : `over a second, ${times} times`}.`
						])
			].join(' '),
			causes:
				(loadedPct ?? endPct!) > 0
					? [
							'fuel pressure or injectors that give too little',
							'a table that is lean',
							'an air leak or an exhaust leak before the sensor'
						]
					: ['a table that is rich', 'fuel pressure too high', 'a leaking injector'],
			next: [
				'look at fuel pressure in the same stretch',
				'correct the table where the log shows it; closed loop is no plan for full load'
			]
		};
	}
});
