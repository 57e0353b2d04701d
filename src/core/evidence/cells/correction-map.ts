/** The map of the required correction per bank, and of the difference between the banks, with what stands behind each cell. */
import { fixed } from '../../format.ts';
import type { Prepared } from '../prepared.ts';
import { axisChannel } from '../../calibration/axes.ts';
import { usable } from '../lambda/required.ts';
import { derived, maskOf } from '../../logfile/columns.ts';
import { cellStats, placesOf } from './stats.ts';

export interface CellMap {
	/** Percent; `null` where no sample is. */
	percent: (number | null)[][];
	/** Effective samples. */
	samples: number[][];
	/** Standard error in percent; `null` where unknown. */
	se: (number | null)[][];
}

export interface CorrectionCells {
	xChannel: string;
	xUnit?: string | undefined;
	yChannel: string;
	yUnit?: string | undefined;
	x: number[];
	y: number[];
	banks: (CellMap | null)[];
	/** Bank 2 against bank 1. */
	difference: CellMap | null;
	/** Time spent in each cell, seconds, whatever the driving: where the engine ran. */
	seconds: number[][];
}

function rows<T>(flat: ArrayLike<T>, nx: number, ny: number): T[][] {
	return Array.from({ length: ny }, (_, r) => Array.from({ length: nx }, (_, c) => flat[r * nx + c]!));
}

function tidy(v: number, decimals: number): number | null {
	return Number.isFinite(v) ? Number(fixed(v, decimals)) : null;
}

/** @returns `null` when the log lacks the axes */
export function correctionCells(input: Prepared): CorrectionCells | null {
	const { frame, segments, axes, required, believed } = input;
	const x = axisChannel(frame, { channel: axes.xChannel, unit: axes.xUnit }, segments.baroKpa);
	const y = axisChannel(frame, { channel: axes.yChannel, unit: axes.yUnit }, segments.baroKpa);
	if (!x || !y) return null;
	const use = maskOf(frame.length, (i) => usable(segments, i));
	const places = placesOf(axes, x, y);
	const nx = axes.x.length;
	const ny = axes.y.length;
	const mapOf = (value: Float32Array): CellMap => {
		const s = cellStats({
			axes,
			x,
			y,
			value,
			use,
			timeS: frame.timeS,
			dtS: frame.dtS,
			lagS: believed.lagS,
			method: 'bilinear',
			places
		});
		return {
			percent: rows(
				Array.from(s.mean, (m) => tidy((m - 1) * 100, 2)),
				nx,
				ny
			),
			samples: rows(
				Array.from(s.n, (n) => Math.round(n * 10) / 10),
				nx,
				ny
			),
			se: rows(
				Array.from(s.se, (e) => tidy(e * 100, 2)),
				nx,
				ny
			)
		};
	};
	const [b1, b2] = required.banks;
	const seconds = new Float64Array(nx * ny);
	const cell = places.nearest;
	for (let i = 0; i < cell.length; i++) if (cell[i]! >= 0) seconds[cell[i]!]! += frame.dtS[i]!;
	return {
		xChannel: axes.xChannel,
		xUnit: axes.xUnit,
		yChannel: axes.yChannel,
		yUnit: axes.yUnit,
		x: axes.x,
		y: axes.y,
		banks: required.banks.map((k) => (k ? mapOf(k) : null)),
		difference: b1 && b2 && !believed.shared ? mapOf(derived(b2, (k, i) => k / b1[i]!)) : null,
		seconds: rows(
			Array.from(seconds, (s) => Math.round(s * 100) / 100),
			nx,
			ny
		)
	};
}
