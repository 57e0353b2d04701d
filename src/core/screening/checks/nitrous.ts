/** `nitrous.fuel`, `nitrous.timing`: dry nitrous, where the injectors carry the extra fuel. */
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { findItem } from '../../calibration/lookup.ts';
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
type TimingFacts = {
	outDeg: number;
	dutyPct: number;
	neededDeg: number;
	shotHp: number;
	degPer50Hp: number;
	from: 'log' | 'calibration';
};

interface OutAtDuty {
	dutyPct: number;
	outDeg: number;
}

/** Timing that came out, by ten percent of duty that was driven long enough. */
function outByDuty(
	input: Prepared,
	duty: Float32Array,
	final: Float32Array,
	base: Float32Array
): OutAtDuty[] {
	const on = nitrousOn(input, duty);
	const out = derived(base, (b, i) => b - final[i]!);
	const least = Math.max(5, Math.ceil(LEAST_NITROUS_S / input.frame.stepS));
	return [...new Set(Array.from(duty, binOf))].filter(Number.isFinite).flatMap((bin) => {
		const use = (i: number) => on(i) && binOf(duty[i]!) === bin;
		const outDeg = medianWhere(out, use, least);
		return Number.isFinite(outDeg) ? [{ dutyPct: medianWhere(duty, use), outDeg }] : [];
	});
}

/** The same by the calibration: at each point of its curve at which nitrous is on. */
function outByCurve({ calibration, profile }: Prepared): OutAtDuty[] {
	const item = calibration ? findItem(calibration, 'spark.nitrous') : undefined;
	if (item?.kind === 'scalar') return [{ dutyPct: 100, outDeg: Math.abs(item.value) }];
	if (item?.kind !== 'curve') return [];
	if (item.x.channel !== 'nitrousDuty')
		return [{ dutyPct: 100, outDeg: Math.max(...item.values.map(Math.abs)) }];
	return item.x.points.flatMap((dutyPct, i) =>
		dutyPct > profile.nitrousOnPct ? [{ dutyPct, outDeg: Math.abs(item.values[i]!) }] : []
	);
}

export const nitrousTiming = check({
	code: 'nitrous.timing',
	title: 'Timing with nitrous',
	section: 'nitrous',
	units: { outDeg: '°', dutyPct: '%', neededDeg: '°', shotHp: 'hp', degPer50Hp: '°' },
	run(input) {
		const { frame, vehicle, profile } = input;
		const shot = vehicle.nitrous?.shotHp;
		const duty = frame.get('nitrousDuty');
		if (!vehicle.nitrous && !duty) return pass('The vehicle has no nitrous.');
		if (!shot) return notChecked('the size of the shot is not stated', 'vehicle: nitrous.shotHp');
		const [final, base] = [frame.get('spark'), frame.get('sparkBase')];
		const logged = duty && final && base ? outByDuty(input, duty, final, base) : [];
		const from: TimingFacts['from'] = logged.length ? 'log' : 'calibration';
		const seen = logged.length ? logged : outByCurve(input);
		if (seen.length === 0)
			return notChecked('timing with nitrous is neither logged nor in the calibration', 'sparkBase');
		// What is on at a duty is that share of the shot: each duty has its own need.
		const needed = ({ dutyPct }: OutAtDuty) => (profile.nitrousDegPer50Hp * shot * dutyPct) / 100 / 50;
		const worst = seen.reduce((a, b) => (b.outDeg / needed(b) < a.outDeg / needed(a) ? b : a));
		const per50 = (profile.nitrousDegPer50Hp * worst.outDeg) / needed(worst);
		if (per50 >= profile.nitrousDegPer50Hp) {
			const most = seen.reduce((a, b) => (b.dutyPct > a.dutyPct ? b : a));
			return pass(
				`${fixed(most.outDeg, 1)}° of timing come out at ${fixed(most.dutyPct, 0)} % of ${shot} hp, in the ${from}${seen.length > 1 ? '; less duty, less of it, and enough at each' : ''}.`
			);
		}
		return found(
			finding(input, {
				severity: 'fix',
				facts: {
					outDeg: worst.outDeg,
					dutyPct: worst.dutyPct,
					neededDeg: needed(worst),
					shotHp: shot,
					degPer50Hp: profile.nitrousDegPer50Hp,
					from
				},
				value: per50,
				limit: profile.nitrousDegPer50Hp,
				unit: '° per 50 hp',
				runs: duty
					? stretches(
							frame,
							0.1,
							(i) => duty[i]! > profile.nitrousOnPct && Math.abs(duty[i]! - worst.dutyPct) <= BIN_PCT,
							0.2
						)
					: [],
				channels: ['spark', 'sparkBase', 'nitrousDuty', 'rpm']
			})
		);
	},
	words: ({ facts: { outDeg, dutyPct, neededDeg, shotHp, degPer50Hp, from } }: Told<TimingFacts>) => {
		const needed = fixed(neededDeg, 1);
		return {
			title: `Only ${fixed(outDeg, 1)}° out at ${fixed(dutyPct, 0)} % of ${shotHp} hp of nitrous`,
			summary: `${fixed(outDeg, 1)}° of timing come out at ${fixed(dutyPct, 0)} % duty in the ${from}; ${degPer50Hp}° per 50 hp are ${needed}° for what is on there.`,
			causes: ['a retard that was set for a smaller shot', 'a retard that is not switched on'],
			next: [`take at least ${needed}° out before the next pass`]
		};
	}
});
