/** `log.timebase`: order, gaps, restarts and rate of the recording. */
import { finding, found, notChecked, pass } from '../measure.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { round } from '../ranges.ts';
import { check, type Told } from '../check.ts';
import { worst, type Severity } from '../types.ts';
import { fixed, list, plural, seconds, uncapital } from '../../format.ts';

const GAP_STEPS = 5;
/** Share of samples at or before their predecessor that is worth telling. */
const DISORDER_SHARE = 0.005;
/** Channels whose rate decides whether a pull can be judged. */
const FAST = /^(rpm|map|tps|lambda\.(b[12]|ref2?|dyno)|knockRetard)$/;

type Facts = {
	gaps: number;
	longestS: number;
	loadedGaps: number;
	restarts: number;
	loadedRestarts: number;
	/** Samples at or before their predecessor; absent where it is a few. */
	disordered?: number;
	/** The slowest of the channels that a pull is judged by, where it is too slow. */
	slow?: string;
	slowHz?: number;
};

export const logTimebase = check({
	code: 'log.timebase',
	title: 'Time',
	section: 'fit',
	advice: 'log',
	plain: (f) =>
		`The recording has holes or is too slow (${uncapital(f.title)}). Close other programs, choose fewer channels, and record again.`,
	units: {
		gaps: 'times',
		longestS: 's',
		loadedGaps: 'times',
		restarts: 'times',
		loadedRestarts: 'times',
		disordered: 'samples',
		slowHz: 'Hz'
	},
	run(input) {
		const { log, frame, segments, profile } = input;
		if (frame.length < 2) return notChecked('the log has fewer than two samples', 'a longer log');
		const t = frame.timeS;
		const severities: Severity[] = [];
		const ranges: { from: number; to: number }[] = [];
		const loadedAt = (i: number) =>
			((segments.flags[i] ?? 0) & FLAG.loaded) !== 0 || ((segments.flags[i - 1] ?? 0) & FLAG.loaded) !== 0;
		let gaps = 0;
		let loadedGaps = 0;
		let longest = 0;
		for (let i = 1; i < t.length; i++) {
			const step = t[i]! - t[i - 1]!;
			if (!(step > GAP_STEPS * frame.stepS && step > profile.gapS)) continue;
			gaps++;
			if (loadedAt(i)) loadedGaps++;
			longest = Math.max(longest, step);
			if (ranges.length < 50) ranges.push({ from: round(t[i - 1]!, 3), to: round(t[i]!, 3) });
		}
		if (gaps) severities.push(loadedGaps ? 'fix' : 'watch');
		const { restartsS, repeated, backward } = log.timeFaults;
		const inLoad = restartsS.filter((s) => loadedAt(frame.indexAt(s + 1e-6))).length;
		if (restartsS.length) severities.push(inLoad ? 'fix' : 'note');
		const disordered = repeated + backward > Math.max(5, t.length * DISORDER_SHARE);
		if (disordered) severities.push('watch');
		const fast = log.channels.filter((c) => FAST.test(c.id) && c.rateHz > 0);
		const slowest = fast.reduce<(typeof fast)[number] | null>(
			(a, c) => (a === null || c.rateHz < a.rateHz ? c : a),
			null
		);
		const slow = segments.pulls.length > 0 && slowest && slowest.rateHz < profile.rateWatchHz - 0.05;
		if (slow) severities.push(slowest.rateHz < profile.rateFixHz - 0.05 ? 'fix' : 'watch');
		const severity = worst(severities);
		if (severity === null)
			return pass(
				`No gap, samples in order${slowest ? `, ${fixed(slowest.rateHz, 0)} Hz and more where it counts` : ''}.`
			);
		return found({
			...finding(input, {
				severity,
				facts: {
					gaps,
					longestS: longest,
					loadedGaps,
					restarts: restartsS.length,
					loadedRestarts: inLoad,
					...(disordered ? { disordered: repeated + backward } : {}),
					...(slow ? { slow: slowest.raw || slowest.id, slowHz: slowest.rateHz } : {})
				},
				value: gaps ? longest : (slowest?.rateHz ?? restartsS.length),
				limit: gaps ? profile.gapS : profile.rateWatchHz,
				unit: gaps ? 's' : 'Hz',
				channels: ['rpm']
			}),
			ranges
		});
	},
	words: ({ facts, severity }: Told<Facts>) => {
		const { gaps, longestS, loadedGaps, restarts, loadedRestarts, disordered, slow, slowHz } = facts;
		const said = [
			...(gaps
				? [
						`${plural(gaps, 'gap')} of up to ${seconds(longestS)}${loadedGaps ? `, ${loadedGaps} of them under load` : ''}`
					]
				: []),
			...(restarts
				? [
						`the clock starts again ${plural(restarts, 'time')}${loadedRestarts ? ', in the middle of full load' : ' (joined recordings)'}`
					]
				: []),
			...(disordered ? [`${disordered} samples stand at or before their predecessor`] : []),
			...(slow ? [`${slow} comes at ${fixed(slowHz!, 1)} Hz, too slow for a pull`] : [])
		];
		const joined = severity === 'note';
		return {
			title: joined ? 'Several recordings in one file' : 'The recording is not continuous',
			summary: `In this log ${list(said)}.`,
			causes: [
				'too many channels for the link',
				'the logging device was busy or lost its connection',
				'recordings joined into one file'
			],
			next: joined ? [] : ['log fewer channels at a higher rate', 'repeat the pull that has the gap']
		};
	}
});
