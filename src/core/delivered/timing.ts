/** Timing: table → base → final. Whether it reaches the crank at that angle only a timing light says. */
import { timingAlong } from '../calibration/fuel-along.ts';
import { findItem } from '../calibration/lookup.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { fixed, signed } from '../format.ts';
import { derived } from '../logfile/columns.ts';
import { median } from '../stats/stats.ts';
import { apart, binsOf, link, mediansIn, type Bins, type Broken, type Line } from './line.ts';

/** Table plus known corrections against what was delivered, degrees. Own choice. */
const WITHIN_DEG = 0.5;
/** Base timing is rounded by loggers and moves between samples. */
const BASE_WITHIN_DEG = 1;
const LEARNED_DEG = 0.5;
const LEAST_OCTANE_PCT = 95;
/** Torque interventions in more of the loaded samples than this take the timing. */
const LIMITED_SHARE = 0.05;
/** Pulled for knock: another matter than delivery. */
const PULLED_DEG = 0.1;

export function timingLine(input: Prepared): Line {
	const { frame, segments, calibration } = input;
	const retard = frame.get('knockRetard');
	const torque = frame.get('torqueLimit');
	const bins = binsOf(
		input,
		(i) => !(retard && Math.abs(retard[i]!) > PULLED_DEG) && !(torque && torque[i]! > 0)
	);
	const table = calibration ? timingAlong(frame, calibration, segments.baroKpa) : null;
	const written = link(
		{ name: 'written', title: 'table of the revision, with its corrections', unit: '°' },
		bins,
		table,
		{
			missing:
				!calibration || !findItem(calibration, 'spark.table')
					? 'The calibration has no timing table to set the log against.'
					: 'What the timing table is read by isn’t logged under load.'
		}
	);
	const commanded = link(
		{ name: 'commanded', title: 'base timing', unit: '°' },
		bins,
		frame.get('sparkBase'),
		{ missing: 'Base timing isn’t logged.', asks: ['sparkBase'] }
	);
	const delivered = link(
		{ name: 'delivered', title: 'final timing', unit: '°' },
		bins,
		frame.get('spark'),
		!frame.has('spark')
			? {
					missing: 'The timing isn’t logged: whether the table reaches the engine is not known. Log it.',
					asks: ['spark']
				}
			: {
					missing:
						segments.loaded.length === 0
							? 'There is no full load in the log to see it by.'
							: 'No loaded sample without retard shows the timing.'
				}
	);
	const light = calibration ? findItem(calibration, 'spark.baseVerified') : undefined;
	const checked = light?.kind === 'setting' && String(light.value).trim() !== '';
	return {
		quantity: 'timing',
		title: 'Timing',
		axis: { title: 'Engine speed', unit: 'rpm', points: bins.points },
		links: [
			written,
			commanded,
			delivered,
			{
				name: 'measured',
				title: 'at the crank',
				unit: '°',
				values: bins.points.map(() => null),
				missing: checked
					? `No log says it; checked with a timing light: ${String(light.value)}.`
					: 'No log says it, and nobody checked with a timing light.'
			}
		],
		broken: brokenIn(input, bins, table)
	};
}

function brokenIn({ frame, segments }: Prepared, bins: Bins, table: Float32Array | null): Broken | null {
	const spark = frame.get('spark');
	if (!spark) return null;
	const most = (id: string) => {
		const v = frame.get(id);
		if (!v) return Number.NaN;
		const list: number[] = [];
		for (const run of segments.loaded) for (let i = run.from; i <= run.to; i++) list.push(v[i]!);
		return median(list);
	};
	const learned = most('knockLearned');
	if (Math.abs(learned) > LEARNED_DEG)
		return {
			at: 'delivered',
			why: `${fixed(Math.abs(learned), 1)}° of retard are learned and held back: clear it, drive it empty, log again.`
		};
	const octane = most('octaneFactor');
	if (octane < LEAST_OCTANE_PCT)
		return {
			at: 'delivered',
			why: `The controller believes in ${fixed(octane, 0)} % of the octane: it holds timing back.`
		};
	const torque = frame.get('torqueLimit');
	let limited = 0;
	let n = 0;
	if (torque)
		for (const run of segments.loaded)
			for (let i = run.from; i <= run.to; i++) {
				n++;
				if (torque[i]! > 0) limited++;
			}
	if (limited > n * LIMITED_SHARE)
		return {
			at: 'delivered',
			why: 'The controller intervenes by torque under load: find out whose limit it is.'
		};
	const base = apart(bins, table, frame.get('sparkBase'), BASE_WITHIN_DEG);
	const off = table
		? mediansIn(
				bins,
				derived(spark, (v, i) => v - table[i]!)
			).flatMap((v) => v ?? [])
		: [];
	const final = off.length ? median(off) : Number.NaN;
	if (Math.abs(final) > WITHIN_DEG)
		return {
			// Where the base is off already, the table isn't what the controller reads.
			at: base ? 'commanded' : 'delivered',
			why: `The engine gets ${signed(final)}° against the table: not delivered. ${base ? 'Its base timing is off already: another file, or another axis of the table.' : 'Find what takes it first.'}`
		};
	return null;
}
