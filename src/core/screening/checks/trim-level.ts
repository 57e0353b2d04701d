/**
 * `trim.level`: closed-loop and learned trim together at part load, per bank. An error that shrinks with the pulse width is one of
 * dead time or a leak; one that stays is proportional.
 */
import { FLAG, UNUSABLE } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { derived } from '../../logfile/columns.ts';
import { bankCount } from '../../vehicle/facts.ts';
import { finding, found, medianAt, notChecked, pass, samplesWhere } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { whose, type OfBanks } from '../banks.ts';
import type { Raised } from '../types.ts';
import { signed } from '../../format.ts';

type Samples = [partLoad: Int32Array, idle: Int32Array, cruise: Int32Array];
const PART_LOAD = FLAG.idle | FLAG.cruise | FLAG.light;
/** A leak or dead time makes the trim at idle this much larger than at cruise. */
const SHRINKS_POINTS = 4;
/** Banks whose trims are this close share one cause. */
const TOGETHER_POINTS = 3;

function trimOf(input: Prepared, bank: number): Float32Array | null {
	const { frame } = input;
	const short = frame.get(`stft.b${bank}`);
	const learned = frame.get(`ltft.b${bank}`);
	if (!short || !learned) return short ?? learned;
	return derived(short, (s, i) => s + learned[i]!);
}

function causes(trim: number, shrinks: boolean, mechanical: boolean): string[] {
	const cause = shrinks
		? trim > 0
			? ['an air leak behind the meter or throttle', 'injector dead time set too short']
			: ['injector dead time set too long', 'a purge valve that leaks']
		: trim > 0
			? [
					'fuel pressure or injector flow below what is set',
					'air model or meter reads low',
					'an exhaust leak before the sensor'
				]
			: [
					'fuel pressure or injector flow above what is set',
					'air model or meter reads high',
					'a leaking injector'
				];
	return mechanical ? ['a mechanical cause first: leak, sensor, injector', ...cause] : cause;
}

type Facts = OfBanks & {
	trimPct: number;
	/** Both where idle and cruise were driven. */
	idlePct?: number;
	cruisePct?: number;
	/** The error is the smaller the longer the pulse. */
	shrinks: boolean;
	/** So much is a mechanical cause first. */
	mechanical: boolean;
};

export const trimLevel = check({
	code: 'trim.level',
	title: 'Fuel trims',
	section: 'readiness',
	advice: 'repair',
	readiness: { item: 'Fuel trims', against: (_, p) => `within ±${p.trimWatchPct} %` },
	units: { trimPct: '%', idlePct: '%', cruisePct: '%' },
	run(input) {
		const { frame, segments, profile, vehicle } = input;
		const driven = (bits: number) =>
			samplesWhere(
				frame.length,
				(i) => (segments.flags[i]! & bits) !== 0 && !(segments.flags[i]! & UNUSABLE)
			);
		const [partLoad, idling, cruising] = [PART_LOAD, FLAG.idle, FLAG.cruise].map(driven) as Samples;
		const least = Math.ceil(5 / frame.stepS);
		const banks = Array.from({ length: bankCount(vehicle) }, (_, b) => b + 1).flatMap((bank) => {
			const trim = trimOf(input, bank);
			if (!trim) return [];
			const level = medianAt(trim, partLoad, least);
			if (!Number.isFinite(level)) return [];
			const idle = medianAt(trim, idling, least);
			const cruise = medianAt(trim, cruising, least);
			return [{ bank, level, idle, cruise }];
		});
		if (!['stft.b1', 'stft.b2', 'ltft.b1', 'ltft.b2'].some((id) => frame.has(id)))
			return notChecked('no fuel trim is logged', 'stft.b1');
		if (banks.length === 0)
			return notChecked(
				'there are no five seconds of warm idle, cruise or light acceleration',
				'idle and cruise'
			);
		const said = banks
			.map((b) => `${banks.length > 1 ? `bank ${b.bank} ` : ''}${signed(b.level)} %`)
			.join(', ');
		const bad = banks.filter((b) => Math.abs(b.level) > profile.trimWatchPct);
		if (bad.length === 0) return pass(`Trims at part load ${said}.`);
		const together =
			banks.length === 2 && Math.abs(banks[0]!.level - banks[1]!.level) <= TOGETHER_POINTS && bad.length > 0;
		const judged = together ? [bad.reduce((a, b) => (Math.abs(b.level) > Math.abs(a.level) ? b : a))] : bad;
		return found(
			...judged.map((b): Raised<Facts> => {
				const size = Math.abs(b.level);
				const fix = size > profile.trimFixPct;
				const mechanical = size > profile.trimMechanicalPct;
				const shrinks = Math.abs(b.idle) - Math.abs(b.cruise) > SHRINKS_POINTS;
				const both = Number.isFinite(b.idle) && Number.isFinite(b.cruise);
				return finding(input, {
					severity: fix ? 'fix' : 'watch',
					facts: {
						trimPct: b.level,
						...(both ? { idlePct: b.idle, cruisePct: b.cruise } : {}),
						shrinks,
						mechanical,
						...(together ? { both: true } : {})
					},
					value: b.level,
					limit: mechanical ? profile.trimMechanicalPct : fix ? profile.trimFixPct : profile.trimWatchPct,
					unit: '%',
					...(banks.length > 1 && !together ? { bank: b.bank as 1 | 2 } : {}),
					channels: [`stft.b${b.bank}`, `ltft.b${b.bank}`, 'rpm', 'map']
				});
			})
		);
	},
	words: (f: Told<Facts>) => {
		const { trimPct, idlePct, cruisePct, shrinks, mechanical } = f.facts;
		const shape =
			idlePct === undefined
				? ''
				: ` (idle ${signed(idlePct)}, cruise ${signed(cruisePct!)} %: the error ${shrinks ? 'shrinks with the pulse width' : 'is proportional'})`;
		return {
			title: `Trims at ${signed(trimPct, 0)} %${f.bank ? `, bank ${f.bank}` : ''}`,
			summary: `At part load ${whose(f, 'the engine')} is corrected by ${signed(trimPct)} %${shape}.${mechanical ? ' This much is a mechanical cause first.' : ''}`,
			causes: causes(trimPct, shrinks, mechanical),
			next: ['find the cause before the table is corrected', 'smoke test, fuel pressure, then the table']
		};
	}
});
