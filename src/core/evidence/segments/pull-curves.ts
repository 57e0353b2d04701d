/** Pulls laid over engine speed, because that is the curve that a tuner reads first. */
import { fixed } from '../../format.ts';
import { dutyFromPulse } from '../duty.ts';
import type { Prepared } from '../prepared.ts';
import { retardOf } from '../knock/episodes.ts';
import { rpmBins } from './rpm-bins.ts';

export interface PullCurves {
	fromS: number;
	toS: number;
	gear: number | null;
	/** Centres of the engine speed bins. */
	rpm: number[];
	/** Mean per bin by name; knock retard is the highest of the bin. `null` where nothing was recorded. */
	curves: Record<string, (number | null)[]>;
	summary: PullSummary;
}

export interface PullSummary {
	fromRpm: number;
	toRpm: number;
	highestMapKpa: number | null;
	/** Leanest believed mixture against target, percent, as a mean over 100 rpm. */
	leanestPct: number | null;
	knockDeg: number | null;
	dutyPct: number | null;
	iatC: number | null;
}

const BIN_RPM = 100;

/** What a pull is read by, by name; knock as the highest of a bin, the rest as means. */
export function pullSources(input: Prepared): Record<string, Float32Array | null> {
	const { frame, believed, target } = input;
	return {
		target: target.values,
		lambda1: believed.logged[0] ?? null,
		lambda2: believed.shared ? null : (believed.logged[1] ?? null),
		knock: retardOf(frame),
		spark: frame.first('spark', 'sparkBase'),
		map: frame.get('map'),
		boostTarget: frame.get('boostTarget'),
		tps: frame.first('tps', 'pedal'),
		duty: dutyFromPulse(input) ?? frame.get('injDuty'),
		iat: frame.get('iat')
	};
}

/** Curves of every pull of a log, in the order of time. */
export function pullCurves(input: Prepared): PullCurves[] {
	const { frame, segments } = input;
	const rpm = frame.get('rpm');
	if (!rpm) return [];
	const sources = pullSources(input);
	return segments.pulls.map((pull) => {
		const bins = rpmBins(rpm, pull, BIN_RPM);
		const curves: PullCurves['curves'] = {};
		for (const [name, values] of Object.entries(sources))
			if (values)
				curves[name] = (name === 'knock' ? bins.highest(values) : bins.mean(values)).map((v) =>
					v === null ? null : Number(fixed(v, 3))
				);
		const most = (name: string): number | null => {
			const found = (curves[name] ?? []).filter((v): v is number => v !== null);
			return found.length ? Math.max(...found) : null;
		};
		const lean = ['lambda1', 'lambda2'].flatMap((name) =>
			(curves[name] ?? []).flatMap((v, b) => {
				const goal = curves['target']?.[b];
				return v !== null && goal ? [100 * (v / goal - 1)] : [];
			})
		);
		return {
			fromS: Number(fixed(pull.fromS, 3)),
			toS: Number(fixed(pull.toS, 3)),
			gear: pull.gear ?? null,
			rpm: bins.lows.map((r) => r + BIN_RPM / 2),
			curves,
			summary: {
				fromRpm: Math.round(rpm[pull.from]!),
				toRpm: Math.round(rpm[pull.to]!),
				highestMapKpa: most('map'),
				leanestPct: lean.length ? Number(fixed(Math.max(...lean), 2)) : null,
				knockDeg: most('knock'),
				dutyPct: most('duty'),
				iatC: most('iat')
			}
		};
	});
}

/** The pull to read first: the one over the widest span of engine speed. −1 when there is none. */
export function bestPull(pulls: readonly PullCurves[]): number {
	let best = -1;
	pulls.forEach((p, i) => {
		const span = p.summary.toRpm - p.summary.fromRpm;
		const held = best < 0 ? -1 : pulls[best]!.summary.toRpm - pulls[best]!.summary.fromRpm;
		if (span > held) best = i;
	});
	return best;
}
