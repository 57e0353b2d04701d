/** All that a log says by cylinder, side by side: mixture by engine speed, knock, exhaust temperature, misfires, and the trims it ran with. */
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { cylinderTrims, trimOf } from '../calibration/cylinder-trims.ts';
import { BIN_RPM, cylinderOf, exhaustByCylinder, lambdaByCylinder } from './by-cylinder.ts';

export interface CylinderRow {
	cylinder: number;
	/** From 1; null where the engine has one bank, or which cylinder is where isn't stated. */
	bank: number | null;
	/** Percent of lambda from the median of its peers under load, per bin; + is leaner. */
	lambdaPct: (number | null)[];
	/** Highest retard under load, °, and the engine speed there. */
	knockDeg: number | null;
	knockRpm: number | null;
	/** At steady load, °C: a trend, no more. */
	egtC: number | null;
	misfires: number | null;
	/** Fuel trim of the revision that the log was made with, %; the mean of one that goes by speed or load. */
	trimPct: number | null;
}

export interface CylinderView {
	/** Lower end of each 500 rpm. */
	rpm: number[];
	rows: CylinderRow[];
	has: { lambda: boolean; knock: boolean; egt: boolean; misfires: boolean; trims: boolean };
}

/** @returns `null` when neither the log nor the calibration knows cylinders apart */
export function cylinderView(input: Prepared): CylinderView | null {
	const { frame, segments, vehicle, calibration } = input;
	const of = (prefix: string) => frame.ids.filter((id) => id.startsWith(prefix));
	const trims = calibration ? cylinderTrims(calibration, 'fuel.cylTrim') : null;
	const [lambda, knock, egt, misfires] = ['lambda.cyl', 'knockRetard.cyl', 'egt.cyl', 'misfire.cyl'].map(of);
	const has = {
		lambda: lambda!.length > 0,
		knock: knock!.length > 0,
		egt: egt!.length > 0,
		misfires: misfires!.length > 0,
		trims: trims !== null
	};
	if (!Object.values(has).some(Boolean)) return null;
	const rpm = frame.get('rpm');
	const bins = rpm && has.lambda ? lambdaByCylinder(input) : [];
	const numbers = [...new Set(bins.map((b) => b.bin))].sort((a, b) => a - b);
	const heat = new Map(exhaustByCylinder(input).map((e) => [e.cylinder, e.level]));
	const loaded = (i: number) => (segments.flags[i]! & FLAG.loaded) !== 0;
	const { banks, cylinders } = vehicle.engine;
	const seen = [lambda!, knock!, egt!, misfires!].flat().map(cylinderOf);
	const count = Math.max(cylinders, ...seen);
	const rows = Array.from({ length: count }, (_, k): CylinderRow => {
		const cylinder = k + 1;
		const retard = frame.get(`knockRetard.cyl${cylinder}`);
		const peak = retard ? highest(retard, loaded) : -1;
		const level = heat.get(cylinder);
		const missed = frame.get(`misfire.cyl${cylinder}`);
		const bank = banks && banks.length > 1 ? banks.findIndex((b) => b.includes(cylinder)) : -1;
		return {
			cylinder,
			bank: bank >= 0 ? bank + 1 : null,
			lambdaPct: numbers.map((n) => bins.find((b) => b.cylinder === cylinder && b.bin === n)?.pct ?? null),
			knockDeg: retard && peak >= 0 ? retard[peak]! : null,
			knockRpm: retard && rpm && peak >= 0 && retard[peak]! > 0 ? rpm[peak]! : null,
			egtC: level !== undefined && Number.isFinite(level) ? level : null,
			misfires: missed ? rise(missed) : null,
			trimPct: trims && trimOf(trims, cylinder)
		};
	});
	return { rpm: numbers.map((n) => n * BIN_RPM), rows, has };
}

/** Place of the highest value where `use` holds; −1 when nothing was recorded there. */
function highest(values: Float32Array, use: (i: number) => boolean): number {
	let top = -1;
	for (let i = 0; i < values.length; i++)
		if (use(i) && values[i] === values[i] && (top < 0 || values[i]! > values[top]!)) top = i;
	return top;
}

/** How often a counter went up, by how much in all; a restart from zero is no rise. */
function rise(count: Float32Array): number {
	let sum = 0;
	let before = Number.NaN;
	for (const v of count) {
		if (v !== v) continue;
		if (v > before) sum += v - before;
		before = v;
	}
	return sum;
}
