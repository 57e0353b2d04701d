/**
 * `trim.reset`: after a revision that asks for the learned trims to be reset, they have to stand near zero at first. What was learnt with
 * the old fuelling would be counted on top of the new one.
 */
import { FLAG } from '../../evidence/segments/kinds.ts';
import { sameItem } from '../../calibration/compare.ts';
import type { Calibration } from '../../calibration/document.ts';
import { findItem } from '../../calibration/lookup.ts';
import { bankCount } from '../../vehicle/facts.ts';
import { finding, found, medianWhere, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { list, signed } from '../../format.ts';

/** The first warm minutes. */
const FIRST_S = 180;
const LEAST_S = 5;

/** Whether a revision asks for a reset by itself: its injector data are others than before (common practice). */
function injectorsChanged(before: Calibration | undefined, now: Calibration | null): boolean {
	if (!before || !now) return false;
	return ['injector.flow', 'injector.deadTime'].some(
		(id) => !sameItem(findItem(before, id), findItem(now, id))
	);
}

/** Learned trim of each bank that logs one in the first warm minutes; `injectors`: the reset is asked for by other injector data. */
type Facts = { banks: number[]; levelPct: number[]; injectors: boolean };

const levelsSaid = ({ banks, levelPct }: Pick<Facts, 'banks' | 'levelPct'>): string =>
	list(banks.map((b, i) => `${banks.length > 1 ? `bank ${b} ` : ''}${signed(levelPct[i]!)} %`));

export const trimReset = check({
	code: 'trim.reset',
	title: 'Learned trims reset',
	section: 'mixture',
	advice: 'log',
	doubts: ['everything'],
	units: { banks: 'bank', levelPct: '%' },
	run(input) {
		const { frame, segments, calibrations, calibration, vehicle, profile } = input;
		if (!calibration) return notChecked('no calibration is stated for this log', 'calibration');
		const before = calibrations[calibrations.indexOf(calibration) - 1];
		const injectors = injectorsChanged(before, calibration);
		if (!injectors && !input.resetTrims)
			return pass('This revision does not ask for the learned trims to be reset.');
		const learned = [1, 2].slice(0, bankCount(vehicle)).flatMap((bank) => {
			const values = frame.get(`ltft.b${bank}`);
			return values ? [{ bank, values }] : [];
		});
		if (learned.length === 0) return notChecked('the learned trims are not logged', 'ltft.b1');
		const barred = FLAG.standing | FLAG.start | FLAG.warmup;
		let warm = 0;
		const use = new Uint8Array(frame.length);
		for (let i = 0; i < frame.length && warm < FIRST_S; i++)
			if (!(segments.flags[i]! & barred)) {
				use[i] = 1;
				warm += frame.dtS[i]!;
			}
		const levels = learned
			.map(({ bank, values }) => ({
				bank,
				level: medianWhere(values, (i) => use[i] === 1, Math.ceil(LEAST_S / frame.stepS))
			}))
			.filter((l) => Number.isFinite(l.level));
		if (levels.length === 0) return notChecked('the engine is never warm in this log', 'a warm engine');
		const worst = levels.reduce((a, b) => (Math.abs(b.level) > Math.abs(a.level) ? b : a));
		const seen = { banks: levels.map((l) => l.bank), levelPct: levels.map((l) => l.level) };
		if (Math.abs(worst.level) <= profile.trimResetPct)
			return pass(`The learned trims were reset: ${levelsSaid(seen)} in the first warm minutes.`);
		return found(
			finding(input, {
				severity: 'fix',
				facts: { ...seen, injectors },
				value: worst.level,
				limit: profile.trimResetPct,
				unit: '%',
				channels: learned.map((l) => `ltft.b${l.bank}`)
			})
		);
	},
	words: ({ facts }: Told<Facts>) => ({
		title: 'The learned trims were not reset',
		summary: `${facts.injectors ? 'This revision has other injector data' : 'This revision holds what the learned trims held'} and asks for a reset, but the learned trims stand at ${levelsSaid(facts)} in the first warm minutes: what was learnt before is counted on top of it.`,
		causes: ['the reset was forgotten', 'the controller keeps its trims over a reset'],
		next: ['reset the learned trims, then log again: nothing is proposed from this log']
	})
});
