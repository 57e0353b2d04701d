/** `table.range`: driving under load beyond the last axis point of a table, where its edge holds for everything. */
import { titleOf } from '../../calibration/items.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { blendOf, blendShares } from '../../calibration/along.ts';
import type { Calibration, MapItem } from '../../calibration/document.ts';
import { findMap } from '../../calibration/lookup.ts';
import type { Frame } from '../../logfile/frame.ts';
import { axisChannel, axisShownUnit, axisTitle, axisUnit, type AxisRef } from '../../calibration/axes.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { fixed, list, quantity } from '../../format.ts';

const TABLES = ['fuel.table', 'spark.table', 'lambda.target', 'air.model'] as const;
/** A member of a blend that gives less than this gives nothing that matters. */
const LEAST_SHARE = 0.05;
const HOLD_S = 0.3;
/** Less than this beyond the end is measuring noise. */
const NOISE_SHARE = 0.01;

/** A table in a sentence. */
const nameOf = (table: MapItem): string => `“${titleOf(table)}”`;

/** A table that is read along the log, and where: a member of a blend only where it has a share. */
interface Read {
	table: MapItem;
	used: (i: number) => boolean;
}

/** Tables behind an item: itself, or the members of its blend, each where it is used. */
function tablesOf(frame: Frame, calibration: Calibration, id: string, baroKpa: number): Read[] {
	const blend = blendOf(calibration, id);
	if (!blend) {
		const table = findMap(calibration, id);
		return table ? [{ table, used: () => true }] : [];
	}
	const shares = blendShares(frame, blend, baroKpa);
	if (!shares) return [];
	return blend.members.flatMap((member, m) => {
		const table = findMap(calibration, member);
		return table ? [{ table, used: (i: number) => shares[m]![i]! > LEAST_SHARE }] : [];
	});
}

interface Beyond {
	table: string;
	axis: AxisRef;
	last: number;
	reached: number;
	/** Share of the axis' span that lies beyond its end. */
	share: number;
	unit: string;
	values: Float32Array;
	used: (i: number) => boolean;
}

/** One entry in each list for every axis that the log drove beyond. */
type Facts = { tables: string[]; axes: string[]; last: number[]; units: string[]; reached: number[] };

export const tableRange = check({
	code: 'table.range',
	title: 'Ends of the tables',
	section: 'mixture',
	units: { last: '', reached: '' },
	run(input) {
		const { frame, segments, calibration, profile } = input;
		if (!calibration) return notChecked('no calibration is stated for this log', 'calibration');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const judged: string[] = [];
		const beyond: Beyond[] = [];
		for (const { table, used } of TABLES.flatMap((id) => tablesOf(frame, calibration, id, segments.baroKpa)))
			for (const axis of [table.x, table.y]) {
				const values = axisChannel(frame, axis, segments.baroKpa);
				const last = axis.points.at(-1);
				if (!values || last === undefined || axis.points.length < 2) continue;
				judged.push(nameOf(table));
				const { level } = heldHigh(frame, values, HOLD_S, segments.loaded, used);
				const share = (level - last) / (last - axis.points[0]!);
				if (share > NOISE_SHARE)
					beyond.push({
						table: nameOf(table),
						axis,
						last,
						reached: level,
						share,
						unit: axisShownUnit(axis),
						values,
						used
					});
			}
		if (judged.length === 0) return notChecked('no table whose axes are logged', 'map');
		if (beyond.length === 0) return pass(`Loaded driving stays within ${list([...new Set(judged)])}.`);
		const worst = beyond.reduce((a, b) => (b.share > a.share ? b : a));
		return found(
			finding(input, {
				severity: 100 * worst.share > profile.tableBeyondPct ? 'fix' : 'note',
				facts: {
					tables: beyond.map((b) => b.table),
					axes: beyond.map((b) => axisTitle(b.axis.channel).toLowerCase()),
					last: beyond.map((b) => b.last),
					units: beyond.map((b) => b.unit),
					reached: beyond.map((b) => b.reached)
				},
				value: worst.reached,
				limit: worst.last,
				unit: axisUnit(worst.axis),
				runs: stretches(
					frame,
					HOLD_S,
					(i) => (segments.flags[i]! & FLAG.loaded) !== 0 && worst.used(i) && worst.values[i]! > worst.last,
					0.2
				),
				channels: [worst.axis.channel, 'map', 'rpm'].filter((c, i, all) => all.indexOf(c) === i)
			})
		);
	},
	words: ({ facts: { tables, axes, last, units, reached } }: Told<Facts>) => ({
		title: `Beyond the end of ${list([...new Set(tables)])}`,
		summary: `${tables.map((table, i) => `${table} ends at ${quantity(last[i]!, units[i]!)} of ${axes[i]}, the log goes to ${quantity(Number(fixed(reached[i]!, last[i]! < 10 ? 2 : 0)), units[i]!)}`).join('; ')}. Beyond it the last row holds, whatever the engine does.`,
		causes: [
			'more boost or engine speed than the table was made for',
			'factory tables under an added blower'
		],
		next: ['extend the axis (pressure ratio where the controller offers it) before more boost']
	})
});
