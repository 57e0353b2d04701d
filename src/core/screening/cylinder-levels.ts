/** What a log says of each cylinder in one number a kind, for following it over the logs of a job. */
import type { Prepared } from '../evidence/prepared.ts';
import { cylinderView } from './cylinder-view.ts';

export interface CylinderLevels {
	cylinder: number;
	/** Percent of lambda from the median of its peers under load, mean over engine speed; + is leaner. */
	lambdaPct: number | null;
	/** The place (500 rpm) at which it is furthest from them, percent; missing in summaries of before. */
	furthestPct?: number | null;
	/** Highest retard under load, °. */
	knockDeg: number | null;
	/** Of the exhaust at steady load, °C. */
	egtC: number | null;
	misfires: number | null;
	/** Fuel trim of the revision that the log was made with, %. */
	trimPct: number | null;
}

const short = (v: number | null) => (v === null ? null : Number(v.toPrecision(4)));

/** @returns empty where the log knows no cylinder apart: a trim of the revision alone is nothing that was seen */
export function cylinderLevels(input: Prepared): CylinderLevels[] {
	const view = cylinderView(input);
	if (!view || !(view.has.lambda || view.has.knock || view.has.egt || view.has.misfires)) return [];
	return view.rows.map((r) => {
		const bins = r.lambdaPct.flatMap((v) => v ?? []);
		return {
			cylinder: r.cylinder,
			lambdaPct: bins.length ? short(bins.reduce((a, b) => a + b, 0) / bins.length) : null,
			furthestPct: bins.length ? short(bins.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a))) : null,
			knockDeg: short(r.knockDeg),
			egtC: short(r.egtC),
			misfires: r.misfires,
			trimPct: short(r.trimPct)
		};
	});
}
