/** `log.timebase`: order, gaps, restarts and rate of the recording. */
import { notChecked, pass, found } from '../measure.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { round } from '../ranges.ts';
import { check } from '../check.ts';
import { worst, type Severity } from '../types.ts';
import { fixed, list, plural, seconds, uncapital } from '../../format.ts';

const GAP_STEPS = 5;
const GAP_S = 0.5;
/** Share of samples at or before their predecessor that is worth telling. */
const DISORDER_SHARE = 0.005;
/** Channels whose rate decides whether a pull can be judged. */
const FAST = /^(rpm|map|tps|lambda\.(b[12]|ref2?|dyno)|knockRetard)$/;

export const logTimebase = check({
	code: 'log.timebase',
	title: 'Time',
	section: 'fit',
	advice: 'log',
	plain: (f) =>
		`The recording has holes or is too slow (${uncapital(f.title)}). Close other programs, choose fewer channels, and record again.`,
	run({ log, frame, segments, profile }) {
		if (frame.length < 2) return notChecked('the log has fewer than two samples', 'a longer log');
		const t = frame.timeS;
		const said: { severity: Severity; text: string }[] = [];
		const ranges: { from: number; to: number }[] = [];
		const loadedAt = (i: number) =>
			((segments.flags[i] ?? 0) & FLAG.loaded) !== 0 || ((segments.flags[i - 1] ?? 0) & FLAG.loaded) !== 0;
		let gaps = 0;
		let loadedGaps = 0;
		let longest = 0;
		for (let i = 1; i < t.length; i++) {
			const step = t[i]! - t[i - 1]!;
			if (!(step > GAP_STEPS * frame.stepS && step > GAP_S)) continue;
			gaps++;
			if (loadedAt(i)) loadedGaps++;
			longest = Math.max(longest, step);
			if (ranges.length < 50) ranges.push({ from: round(t[i - 1]!, 3), to: round(t[i]!, 3) });
		}
		if (gaps)
			said.push({
				severity: loadedGaps ? 'fix' : 'watch',
				text: `${plural(gaps, 'gap')} of up to ${seconds(longest)}${loadedGaps ? `, ${loadedGaps} of them under load` : ''}`
			});
		const { restartsS, repeated, backward } = log.timeFaults;
		const inLoad = restartsS.filter((s) => loadedAt(frame.indexAt(s + 1e-6))).length;
		if (restartsS.length)
			said.push({
				severity: inLoad ? 'fix' : 'note',
				text: `the clock starts again ${plural(restartsS.length, 'time')}${inLoad ? ', in the middle of full load' : ' (joined recordings)'}`
			});
		if (repeated + backward > Math.max(5, t.length * DISORDER_SHARE))
			said.push({
				severity: 'watch',
				text: `${repeated + backward} samples stand at or before their predecessor`
			});
		const fast = log.channels.filter((c) => FAST.test(c.id) && c.rateHz > 0);
		const slowest = fast.reduce<(typeof fast)[number] | null>(
			(a, c) => (a === null || c.rateHz < a.rateHz ? c : a),
			null
		);
		if (segments.pulls.length && slowest && slowest.rateHz < profile.rateWatchHz - 0.05)
			said.push({
				severity: slowest.rateHz < profile.rateFixHz - 0.05 ? 'fix' : 'watch',
				text: `${slowest.raw || slowest.id} comes at ${fixed(slowest.rateHz, 1)} Hz, too slow for a pull`
			});
		const severity = worst(said.map((s) => s.severity));
		if (severity === null)
			return pass(
				`No gap, samples in order${slowest ? `, ${fixed(slowest.rateHz, 0)} Hz and more where it counts` : ''}.`
			);
		return found({
			code: 'log.timebase',
			severity,
			title: severity === 'note' ? 'Several recordings in one file' : 'The recording is not continuous',
			summary: `In this log ${list(said.map((s) => s.text))}.`,
			value: round(gaps ? longest : (slowest?.rateHz ?? restartsS.length), 2),
			limit: gaps ? GAP_S : profile.rateWatchHz,
			unit: gaps ? 's' : 'Hz',
			ranges,
			channels: ['rpm'].filter((id) => frame.has(id)),
			causes: [
				'too many channels for the link',
				'the logging device was busy or lost its connection',
				'recordings joined into one file'
			],
			next:
				severity === 'note' ? [] : ['log fewer channels at a higher rate', 'repeat the pull that has the gap']
		});
	}
});
