/** Whether the timing that the table says reaches the engine: else a rung climbs in the file and not in the car. */
import { along } from '../calibration/along.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { fixed, signed } from '../format.ts';
import { median } from '../stats/stats.ts';

/** Table plus known corrections against what was delivered, degrees. Own choice. */
const WITHIN_DEG = 0.5;
const LEARNED_DEG = 0.5;
const LEAST_OCTANE_PCT = 95;

/** Corrections that tables make by what is logged, degrees. */
const CORRECTIONS = ['spark.iatTrim', 'spark.ectTrim'];

/** @returns why it is not delivered; `null` where it is */
export function deliveredOf(input: Prepared): string | null {
	const { frame, segments, calibration } = input;
	const spark = frame.get('spark');
	if (!spark) return 'The timing isn’t logged: whether the table reaches the engine is not known. Log it.';
	if (segments.loaded.length === 0) return 'There is no full load in the log to see it by.';
	const table = calibration && along(frame, calibration, 'spark.table', segments.baroKpa);
	if (!table) return 'The calibration has no timing table to set the log against.';
	const loaded = (i: number) => (segments.flags[i]! & FLAG.loaded) !== 0;
	const most = (id: string) => {
		const v = frame.get(id);
		if (!v) return Number.NaN;
		const list: number[] = [];
		for (let i = 0; i < v.length; i++) if (loaded(i)) list.push(v[i]!);
		return median(list);
	};
	const learned = most('knockLearned');
	if (Math.abs(learned) > LEARNED_DEG)
		return `${fixed(Math.abs(learned), 1)}° of retard are learned and held back: clear it, drive it empty, log again.`;
	const octane = most('octaneFactor');
	if (octane < LEAST_OCTANE_PCT)
		return `The controller believes in ${fixed(octane, 0)} % of the octane: it holds timing back.`;
	const torque = frame.get('torqueLimit');
	const retard = frame.get('knockRetard');
	const corrections = CORRECTIONS.flatMap((id) => along(frame, calibration, id, segments.baroKpa) ?? []);
	const off: number[] = [];
	let limited = 0;
	let n = 0;
	for (let i = 0; i < frame.length; i++) {
		if (!loaded(i) || spark[i] !== spark[i]) continue;
		n++;
		if (torque && torque[i]! > 0) {
			limited++;
			continue;
		}
		// What is pulled for knock is another gate's matter.
		if (retard && Math.abs(retard[i]!) > 0.1) continue;
		off.push(spark[i]! - table[i]! - corrections.reduce((s, c) => s + (c[i] === c[i] ? c[i]! : 0), 0));
	}
	if (limited > n * 0.05)
		return 'The controller intervenes by torque under load: find out whose limit it is.';
	if (off.length === 0) return 'No loaded sample without retard shows the timing.';
	const middle = median(off);
	return Math.abs(middle) > WITHIN_DEG
		? `The engine gets ${signed(middle)}° against the table: not delivered. Find what takes it first.`
		: null;
}
