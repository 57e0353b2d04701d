/** `nitrous.fuel`, `nitrous.timing`: dry nitrous, where the injectors carry the extra fuel. */
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { findItem } from '../../calibration/document.ts';
import { derived } from '../../logfile/columns.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, medianWhere, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { fixed, signed } from '../../format.ts';

const BIN_PCT = 10;
/** Shorter than this nothing of it counts. */
export const LEAST_NITROUS_S = 0.3;

/** Full duty belongs to the last ten percent. */
const binOf = (dutyPct: number): number => Math.floor(Math.min(dutyPct, 100 - 1e-6) / BIN_PCT);

/** Samples with nitrous on and nothing in the way that is no mixture. */
export const nitrousOn =
	({ segments, profile }: Prepared, duty: Float32Array) =>
	(i: number) =>
		duty[i]! > profile.nitrousOnPct && !(segments.flags[i]! & (FLAG.limiter | FLAG.shift | FLAG.misfire));

/** The leanest of the banks sample by sample: what nitrous has to be safe for. */
export function leanestOf(banks: readonly (Float32Array | null)[]): Float32Array | null {
	const seen = banks.filter((b) => b !== null);
	const [first, second] = seen;
	if (!first || !second) return first ?? null;
	return derived(first, (v, i) => (v >= second[i]! ? v : second[i]!));
}

export interface NitrousBin {
	/** Lower end of ten percent of solenoid duty. */
	dutyPct: number;
	/** Medians, g/s: what flowed, and the adder. */
	flowGs: number;
	adderGs: number;
	/** What flowed less base fuel and adder, g/s and percent of the flow: short of fuel is positive. */
	offGs: number;
	offPct: number;
	/** Time with the mixture on target, s. */
	seconds: number;
}

/** Fuel with nitrous on and the mixture on its target, by solenoid duty; null where a channel for it is missing. */
export function nitrousBins(input: Prepared): NitrousBin[] | null {
	const { frame, believed, target, profile } = input;
	const duty = frame.get('nitrousDuty');
	const [flow, base, adder] = [frame.get('fuelFlow'), frame.get('fuelFlowBase'), frame.get('nitrousFuel')];
	const lambda = leanestOf(believed.banks);
	const aim = target.values;
	if (!duty || !flow || !base || !adder || !lambda || !aim) return null;
	const on = nitrousOn(input, duty);
	const met = (i: number) => Math.abs(100 * (lambda[i]! / aim[i]! - 1)) <= profile.nitrousOnTargetPct;
	const least = Math.max(3, Math.ceil(LEAST_NITROUS_S / frame.stepS));
	const short = derived(flow, (f, i) => f - (base[i]! + adder[i]!));
	return [...new Set(Array.from(duty, binOf))]
		.filter((bin) => Number.isFinite(bin))
		.sort((a, b) => a - b)
		.flatMap((bin) => {
			let samples = 0;
			const use = (i: number) => on(i) && met(i) && binOf(duty[i]!) === bin;
			for (let i = 0; i < frame.length; i++) if (use(i)) samples++;
			const offGs = medianWhere(short, use, least);
			if (!Number.isFinite(offGs)) return [];
			const flowGs = medianWhere(flow, use);
			return [
				{
					dutyPct: bin * BIN_PCT,
					flowGs,
					adderGs: medianWhere(adder, use),
					offGs,
					offPct: (100 * offGs) / flowGs,
					seconds: samples * frame.stepS
				}
			];
		});
}

/** At the ten percent of duty where it is farthest off: by how much of the flow, and the adder as it is. */
type FuelFacts = { dutyPct: number; offPct: number; offGs: number; adderGs: number };

export const nitrousFuel = check({
	code: 'nitrous.fuel',
	title: 'Fuel with nitrous',
	section: 'nitrous',
	units: { dutyPct: '%', offPct: '%', offGs: 'g/s', adderGs: 'g/s' },
	run(input) {
		const { frame, believed, target, profile } = input;
		const duty = frame.get('nitrousDuty');
		const [flow, base, adder] = [frame.get('fuelFlow'), frame.get('fuelFlowBase'), frame.get('nitrousFuel')];
		if (!duty) return notChecked('nitrous is not logged', 'nitrousDuty');
		if (!flow) return notChecked('the fuel flow is not logged', 'fuelFlow');
		if (!base) return notChecked('the fuel flow without nitrous is not logged', 'fuelFlowBase');
		if (!adder) return notChecked('the nitrous fuel is not logged', 'nitrousFuel');
		if (stretches(frame, LEAST_NITROUS_S, nitrousOn(input, duty)).length === 0)
			return notChecked('nitrous is never on in this log', 'a nitrous pass');
		if (!leanestOf(believed.banks) || !target.values)
			return notChecked(
				'mixture or target are not known',
				target.values === null ? 'lambda.target' : 'lambda.b1'
			);
		const bins = nitrousBins(input) ?? [];
		if (bins.length === 0)
			return notChecked(
				`the mixture never met its target within ${profile.nitrousOnTargetPct} % while nitrous was on: fuel can only be judged then`,
				'a pass on target'
			);
		const worst = bins.reduce((a, b) => (Math.abs(b.offPct) > Math.abs(a.offPct) ? b : a));
		const pct = worst.offPct;
		if (Math.abs(pct) <= profile.nitrousWatchPct)
			return pass(`Base fuel and nitrous fuel make up the flow within ${fixed(Math.abs(pct), 1)} %.`);
		const fix = Math.abs(pct) > profile.nitrousFixPct;
		return found(
			finding(input, {
				severity: fix ? 'fix' : 'watch',
				facts: { dutyPct: worst.dutyPct, offPct: pct, offGs: worst.offGs, adderGs: worst.adderGs },
				value: pct,
				limit: Math.sign(pct) * (fix ? profile.nitrousFixPct : profile.nitrousWatchPct),
				unit: '%',
				runs: stretches(
					frame,
					0.1,
					(i) => nitrousOn(input, duty)(i) && binOf(duty[i]!) * BIN_PCT === worst.dutyPct,
					0.2
				),
				channels: ['nitrousDuty', 'fuelFlow', 'fuelFlowBase', 'nitrousFuel', 'lambda.b1']
			})
		);
	},
	words: ({ facts: { dutyPct, offPct, offGs, adderGs } }: Told<FuelFacts>) => ({
		title: `Nitrous fuel ${signed(offPct, 0)} % of the flow`,
		summary: `At ${dutyPct}–${dutyPct + BIN_PCT} % solenoid duty base and nitrous fuel are ${signed(offGs)} g/s from what flowed with the mixture on target: the adder of ${fixed(adderGs, 1)} g/s should be ${fixed(adderGs + offGs, 1)} g/s.`,
		causes: ['an adder that was set for another jet', 'bottle pressure that differs'],
		next: [
			'correct the adder at this duty and the same at each other duty',
			'interpolate between; the ends of the curve are usually flat'
		]
	})
});

/** Timing that comes out with nitrous on, what 50 hp of it take, and where it was read. */
type TimingFacts = { outDeg: number; shotHp: number; degPer50Hp: number; from: 'log' | 'calibration' };

export const nitrousTiming = check({
	code: 'nitrous.timing',
	title: 'Timing with nitrous',
	section: 'nitrous',
	units: { outDeg: '°', shotHp: 'hp', degPer50Hp: '°' },
	run(input) {
		const { frame, vehicle, profile, calibration } = input;
		const shot = vehicle.nitrous?.shotHp;
		const duty = frame.get('nitrousDuty');
		if (!vehicle.nitrous && !duty) return pass('The vehicle has no nitrous.');
		if (!shot) return notChecked('the size of the shot is not stated', 'vehicle: nitrous.shotHp');
		const [final, base] = [frame.get('spark'), frame.get('sparkBase')];
		let takenOut = Number.NaN;
		let from: TimingFacts['from'] = 'log';
		if (duty && final && base) {
			takenOut = medianWhere(
				derived(base, (b, i) => b - final[i]!),
				(i) => duty[i]! > profile.nitrousOnPct,
				5
			);
		}
		if (!Number.isFinite(takenOut) && calibration) {
			const item = findItem(calibration, 'spark.nitrous');
			const values = item?.kind === 'curve' ? item.values : item?.kind === 'scalar' ? [item.value] : [];
			if (values.length) {
				takenOut = Math.max(...values.map(Math.abs));
				from = 'calibration';
			}
		}
		if (!Number.isFinite(takenOut))
			return notChecked('timing with nitrous is neither logged nor in the calibration', 'sparkBase');
		const per50 = takenOut / (shot / 50);
		if (per50 >= profile.nitrousDegPer50Hp)
			return pass(`${fixed(takenOut, 1)}° of timing come out for ${shot} hp, in the ${from}.`);
		return found(
			finding(input, {
				severity: 'fix',
				facts: { outDeg: takenOut, shotHp: shot, degPer50Hp: profile.nitrousDegPer50Hp, from },
				value: per50,
				limit: profile.nitrousDegPer50Hp,
				unit: '° per 50 hp',
				runs: duty ? stretches(frame, 0.1, (i) => duty[i]! > profile.nitrousOnPct, 0.2) : [],
				channels: ['spark', 'sparkBase', 'nitrousDuty', 'rpm']
			})
		);
	},
	words: ({ facts: { outDeg, shotHp, degPer50Hp, from } }: Told<TimingFacts>) => {
		const needed = fixed((degPer50Hp * shotHp) / 50, 0);
		return {
			title: `Only ${fixed(outDeg, 1)}° out for ${shotHp} hp of nitrous`,
			summary: `${fixed(outDeg, 1)}° of timing come out in the ${from}; ${degPer50Hp}° per 50 hp are ${needed}° for this shot.`,
			causes: ['a retard that was set for a smaller shot', 'a retard that is not switched on'],
			next: [`take at least ${needed}° out before the next pass`]
		};
	}
});
