/** Knock of a log for a reader: every episode with where it rose, why it is classed so, and the cell of the timing table. */
import type { Prepared } from '../prepared.ts';
import { findMap } from '../../calibration/lookup.ts';
import { AxisFinder, Surface } from '../../calibration/grid.ts';
import { axisChannel } from '../../calibration/axes.ts';
import { monitorShare } from './monitor.ts';
import type { KnockShape } from './shape.ts';

export interface KnockCell {
	/** Nearest points of the timing table. */
	x: number;
	y: number;
	xChannel: string;
	yChannel: string;
	/** What the table gives at this very point, °BTDC. */
	tableDeg: number;
}

export interface KnockEntry {
	fromS: number;
	toS: number;
	seconds: number;
	peakDeg: number;
	loaded: boolean;
	/** Number of the pull from 1; 0 outside. */
	pull: number;
	/** 0 where it isn't logged per cylinder. */
	cylinder: number;
	rpm: number | null;
	mapKpa: number | null;
	airmassG: number | null;
	sparkDeg: number | null;
	shape: KnockShape;
	because: string;
	/** Share of its time in which the independent monitor heard it too, 0–1; null without a monitor. */
	monitor: number | null;
	cell: KnockCell | null;
}

export interface KnockView {
	/** Worst first. */
	episodes: KnockEntry[];
	hasMonitor: boolean;
	/** Engine speed and pressure that the log's loaded driving spans: where no episode is, it was driven and quiet. */
	loadedRpm: [number, number] | null;
	loadedKpa: [number, number] | null;
}

/** @returns `null` when no knock channel is logged */
export function knockView(input: Prepared): KnockView | null {
	const { knock, frame, calibration, segments, profile } = input;
	if (!knock) return null;
	const monitor = frame.get('knockMonitor');
	const table = calibration && findMap(calibration, 'spark.table');
	const x = table && axisChannel(frame, table.x, segments.baroKpa);
	const y = table && axisChannel(frame, table.y, segments.baroKpa);
	const surface = table && new Surface(table.x.points, table.y.points, table.values);
	const fx = table && new AxisFinder(table.x.points);
	const fy = table && new AxisFinder(table.y.points);
	const known = (v: number) => (Number.isFinite(v) ? v : null);
	const cellAt = (i: number): KnockCell | null =>
		table && x && y && x[i] === x[i] && y[i] === y[i]
			? {
					x: table.x.points[fx!.nearest(x[i]!)]!,
					y: table.y.points[fy!.nearest(y[i]!)]!,
					xChannel: table.x.channel,
					yChannel: table.y.channel,
					tableDeg: surface!.at(x[i]!, y[i]!)
				}
			: null;
	const span = (values: Float32Array | null): [number, number] | null => {
		let low = Infinity;
		let high = -Infinity;
		for (const run of segments.loaded)
			for (let i = run.from; values && i <= run.to; i++) {
				if (values[i]! < low) low = values[i]!;
				if (values[i]! > high) high = values[i]!;
			}
		return high >= low ? [low, high] : null;
	};
	return {
		episodes: knock
			.map((e) => ({
				fromS: e.fromS,
				toS: e.toS,
				seconds: e.seconds,
				peakDeg: e.peakDeg,
				loaded: e.loaded,
				pull: e.pull + 1,
				cylinder: e.cylinder,
				rpm: known(e.rpm),
				mapKpa: known(e.mapKpa),
				airmassG: known(e.airmassG),
				sparkDeg: known(e.sparkDeg),
				shape: e.shape,
				because: e.because,
				monitor: monitor ? monitorShare([e], monitor, frame, profile.monitorLevel) : null,
				cell: cellAt(e.peakAt)
			}))
			.sort((a, b) => b.peakDeg - a.peakDeg || a.fromS - b.fromS),
		hasMonitor: monitor !== null,
		loadedRpm: span(frame.get('rpm')),
		loadedKpa: span(frame.get('map'))
	};
}
