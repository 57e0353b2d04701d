/** `log.conditions`: was the car fit for the pulls: coolant warm, intake air not soaked with heat? */
import { finding, found, notChecked, pass } from '../measure.ts';
import { round } from '../ranges.ts';
import { knownAmbient, type AmbientFrom } from '../../evidence/ambient.ts';
import { check, type Told } from '../check.ts';
import { list, marked, uncapital } from '../../format.ts';

/** Of so many pulls: those that began cold, those that began with soaked air, and with what. */
type Facts = {
	pulls: number;
	cold: number;
	coolantC?: number;
	soaked: number;
	intakeC?: number;
	/** The air outside, and how it is known. */
	ambientC: number;
	ambientFrom: AmbientFrom;
};

const FROM: Partial<Record<AmbientFrom, string>> = {
	stated: ' (stated)',
	'cold start': ' (by the cold start)'
};

export const logConditions = check({
	code: 'log.conditions',
	title: 'Conditions',
	section: 'fit',
	advice: 'log',
	plain: (f) =>
		`The car was not ready for full throttle: ${uncapital(f.title)}. Warm it up, or let it cool down, and do it again.`,
	units: { pulls: 'times', cold: 'times', coolantC: '°C', soaked: 'times', intakeC: '°C', ambientC: '°C' },
	run(input) {
		const { frame, segments, profile, request } = input;
		const ect = frame.get('ect');
		const iat = frame.get('iat');
		if (segments.pulls.length === 0)
			return notChecked('there is no pull in this log', 'a full-throttle pull');
		if (!ect && !iat) return notChecked('neither coolant nor intake air is logged', 'ect');
		const coolantMin = request?.conditions?.coolantMinC ?? profile.coolantMinC;
		const outside = knownAmbient(input);
		const ambient = outside?.ambientC ?? Number.NaN;
		const starts = (values: Float32Array | null) =>
			values ? segments.pulls.map((p) => values[p.from]!).filter(Number.isFinite) : [];
		const [coolants, intakes] = [starts(ect), starts(iat)];
		if (coolants.length + intakes.length === 0)
			return notChecked('neither coolant nor intake air has a value where the pulls begin', 'ect');
		const cold = ect ? segments.pulls.filter((p) => ect[p.from]! < coolantMin) : [];
		const soaked = iat ? segments.pulls.filter((p) => iat[p.from]! > ambient + profile.heatSoakC) : [];
		if (cold.length === 0 && iat && !outside)
			return notChecked(
				'how warm it was outside is neither logged nor stated, and the engine was warm when the log began',
				'ambientTemp'
			);
		if (cold.length === 0 && soaked.length === 0) {
			const parts = [
				...(coolants.length ? [`coolant from ${marked(Math.min(...coolants), '°C', 0)}`] : []),
				...(intakes.length ? [`intake air up to ${marked(Math.max(...intakes), '°C', 0)}`] : [])
			];
			return pass(`Every pull began with ${list(parts)}.`);
		}
		const coldest = Math.min(...cold.map((p) => ect![p.from]!));
		const hottest = Math.max(...soaked.map((p) => iat![p.from]!));
		const bad = [...new Set([...cold, ...soaked])];
		return found({
			...finding(input, {
				severity: 'watch',
				facts: {
					pulls: segments.pulls.length,
					cold: cold.length,
					coolantC: coldest,
					soaked: soaked.length,
					intakeC: hottest,
					ambientC: ambient,
					ambientFrom: outside?.from ?? 'logged'
				},
				value: round(cold.length ? coldest : hottest, 1),
				limit: cold.length ? coolantMin : round(ambient + profile.heatSoakC, 1),
				unit: '°C',
				channels: ['ect', 'iat', 'ambientTemp']
			}),
			ranges: bad.map((p) => ({ from: round(p.fromS, 3), to: round(p.toS, 3) }))
		});
	},
	words: ({ facts }: Told<Facts>) => {
		const { pulls, cold, coolantC, soaked, intakeC, ambientC, ambientFrom } = facts;
		const said = [
			...(cold ? [`${cold} began with coolant at ${marked(coolantC!, '°C')}`] : []),
			...(soaked
				? [
						`${soaked} with intake air at ${marked(intakeC!, '°C')} in ${marked(ambientC, '°C', 0)} ambient${FROM[ambientFrom] ?? ''}`
					]
				: [])
		];
		return {
			title: cold ? 'Pulls with a cold engine' : 'Pulls with heat-soaked intake air',
			summary: `Of ${pulls} pulls ${list(said)}.`,
			causes: cold
				? ['the engine was not warmed up']
				: ['pulls too soon after each other', 'standing with a hot engine before the pull'],
			next: ['let coolant and intake air come to normal before the pull, then log again']
		};
	}
});
