/** `log.conditions`: was the car fit for the pulls: coolant warm, intake air not soaked with heat? */
import { notChecked, pass, found } from '../measure.ts';
import { round } from '../ranges.ts';
import { ambientOf } from '../reserve.ts';
import { check } from '../check.ts';
import { list, marked, uncapital } from '../../format.ts';

export const logConditions = check({
	code: 'log.conditions',
	title: 'Conditions',
	section: 'fit',
	advice: 'log',
	plain: (f) =>
		`The car was not ready for full throttle: ${uncapital(f.title)}. Warm it up, or let it cool down, and do it again.`,
	run({ frame, segments, profile, request }) {
		const ect = frame.get('ect');
		const iat = frame.get('iat');
		if (segments.pulls.length === 0)
			return notChecked('there is no pull in this log', 'a full-throttle pull');
		if (!ect && !iat) return notChecked('neither coolant nor intake air is logged', 'ect');
		const coolantMin = request?.conditions?.coolantMinC ?? profile.coolantMinC;
		const ambient = ambientOf(frame);
		const starts = (values: Float32Array | null) =>
			values ? segments.pulls.map((p) => values[p.from]!).filter(Number.isFinite) : [];
		const [coolants, intakes] = [starts(ect), starts(iat)];
		if (coolants.length + intakes.length === 0)
			return notChecked('neither coolant nor intake air has a value where the pulls begin', 'ect');
		const cold = ect ? segments.pulls.filter((p) => ect[p.from]! < coolantMin) : [];
		const soaked = iat ? segments.pulls.filter((p) => iat[p.from]! > ambient + profile.heatSoakC) : [];
		if (cold.length === 0 && soaked.length === 0) {
			const parts = [
				...(coolants.length ? [`coolant from ${marked(Math.min(...coolants), '°C', 0)}`] : []),
				...(intakes.length ? [`intake air up to ${marked(Math.max(...intakes), '°C', 0)}`] : [])
			];
			return pass(`Every pull began with ${list(parts)}.`);
		}
		const said = [
			...(cold.length
				? [
						`${cold.length} began with coolant at ${marked(Math.min(...cold.map((p) => ect![p.from]!)), '°C')}`
					]
				: []),
			...(soaked.length
				? [
						`${soaked.length} with intake air at ${marked(Math.max(...soaked.map((p) => iat![p.from]!)), '°C')} in ${marked(ambient, '°C', 0)} ${frame.has('ambientTemp') ? 'ambient' : 'at the coolest of the log'}`
					]
				: [])
		];
		const bad = [...new Set([...cold, ...soaked])];
		return found({
			code: 'log.conditions',
			severity: 'watch',
			title: cold.length ? 'Pulls with a cold engine' : 'Pulls with heat-soaked intake air',
			summary: `Of ${segments.pulls.length} pulls ${list(said)}.`,
			value: round(
				cold.length
					? Math.min(...cold.map((p) => ect![p.from]!))
					: Math.max(...soaked.map((p) => iat![p.from]!)),
				1
			),
			limit: cold.length ? coolantMin : round(ambient + profile.heatSoakC, 1),
			unit: '°C',
			ranges: bad.map((p) => ({ from: round(p.fromS, 3), to: round(p.toS, 3) })),
			channels: ['ect', 'iat', 'ambientTemp'].filter((id) => frame.has(id)),
			causes: cold.length
				? ['the engine was not warmed up']
				: ['pulls too soon after each other', 'standing with a hot engine before the pull'],
			next: ['let coolant and intake air come to normal before the pull, then log again']
		});
	}
});
