/** `rpm.limit`: the rev limiter touched within a pull. */
import { fixed, plural } from '../../format.ts';
import { runSeconds } from '../../stats/runs.ts';
import { finding, found, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

/** The limiter ends what counts as the pull. */
const AFTER_PULL_S = 0.5;

type Facts = { pulls: number; longestS: number; limitRpm: number; long: boolean };

export const rpmLimit = check({
	code: 'rpm.limit',
	title: 'Limiter',
	section: 'supply',
	units: { pulls: 'times', longestS: 's', limitRpm: 'rpm' },
	run(input) {
		const { frame, segments, profile, vehicle } = input;
		if (!frame.has('rpm')) return notChecked('engine speed is not logged', 'rpm');
		if (segments.pulls.length === 0)
			return notChecked('there is no pull in this log', 'a full-throttle pull');
		const touched = segments.list.filter(
			(s) =>
				s.kind === 'limiter' &&
				segments.pulls.some((p) => s.fromS <= p.toS + AFTER_PULL_S && s.toS >= p.fromS)
		);
		if (touched.length === 0) return pass('No pull ran into the limiter.');
		const longest = Math.max(...touched.map((s) => runSeconds(s, frame.timeS, frame.stepS)));
		const long = longest > profile.limiterS;
		return found(
			finding(input, {
				severity: long ? 'watch' : 'note',
				facts: { pulls: touched.length, longestS: longest, limitRpm: vehicle.engine.revLimitRpm, long },
				value: longest,
				limit: profile.limiterS,
				unit: 's',
				runs: touched.map((s) => ({ from: s.from, to: s.to })),
				channels: ['rpm', 'pw.b1', 'tps']
			})
		);
	},
	words: ({ facts: { pulls, longestS, limitRpm, long } }: Told<Facts>) => ({
		title: long ? `On the limiter for ${fixed(longestS, 1)} s` : 'The limiter was touched',
		summary: `${plural(pulls, 'pull')} ran into the limiter at ${limitRpm} rpm, at most for ${fixed(longestS, 1)} s. The mixture there is no mixture.`,
		causes: ['lifted or shifted too late'],
		next: ['ask to lift a little before']
	})
});
