/** What goes out of a log: a span of it, in the units of the reader's choice. */
import { CHANNELS } from '../channels/canonical.ts';
import { shown, type UnitChoice } from '../units/display.ts';
import type { Log, LogChannel } from './log.ts';
import { lowerBound } from './pyramid.ts';

/** The log between two moments (seconds), counted from the first of them; both ends of a channel's own axis are cut alike. */
export function spanOf(log: Log, fromS: number, toS: number): Log {
	const axes = new Map<Float64Array, { timeS: Float64Array; from: number; to: number }>();
	const cut = (axis: Float64Array) => {
		let a = axes.get(axis);
		if (!a) {
			const from = lowerBound(axis, fromS);
			const to = lowerBound(axis, toS);
			// Whole microseconds, as the clock was read.
			const timeS = axis.slice(from, to).map((t) => Math.round((t - fromS) * 1e6) / 1e6);
			axes.set(axis, (a = { timeS, from, to }));
		}
		return a;
	};
	const channels = log.channels.map((c): LogChannel => {
		const { timeS, from, to } = cut(c.timeS);
		return { ...c, timeS, values: c.values.slice(from, to) };
	});
	const rows = Math.max(0, ...channels.map((c) => c.values.length));
	return { ...log, channels, rows, durationS: Math.max(0, Math.min(log.durationS, toS) - fromS) };
}

/** A column as it is written out: header and values in the reader's unit. */
export interface OutColumn {
	header: string;
	timeS: Float64Array;
	values: Float32Array;
}

/**
 * Columns with the canonical id as header, and the unit in brackets where it isn't the canonical one.
 * AFR is always that of the petrol scale here, which every reader takes it for; whoever reads the real fuel's gets lambda.
 * @param units `null` for canonical units
 */
export function outColumns(log: Log, units: UnitChoice | null): OutColumn[] {
	const choice: UnitChoice | null = units?.mixture === 'afr-fuel' ? { ...units, mixture: 'lambda' } : units;
	return log.channels
		.filter((c) => CHANNELS.get(c.id)?.quantity !== 'text')
		.map((c): OutColumn => {
			const one = choice ? shown(1, c.unit, choice) : null;
			if (!choice || one!.unit === c.unit) return { header: c.id, timeS: c.timeS, values: c.values };
			// All of them are linear: two points give the line.
			const offset = shown(0, c.unit, choice).value;
			const scale = one!.value - offset;
			return {
				header: `${c.id} [${one!.unit}]`,
				timeS: c.timeS,
				values: c.values.map((v) => v * scale + offset)
			};
		});
}
