/**
 * `air.model`: the modelled air flow against the metered one, per cell of engine speed and pressure. Which of the two is wrong is
 * decided by the mixture: the one that the fuel was computed from, when the mixture is off by as much.
 */
import { nearestCells } from '../../cells/stats.ts';
import { defaultAxes } from '../../cells/grid.ts';
import { usable } from '../../lambda/required.ts';
import { FLAG } from '../../segments/segments.ts';
import { slope } from '../../segments/runs.ts';
import { extremes, median } from '../../stats/stats.ts';
import { finding, found, notChecked, pass, stretches } from '../measure.ts';
import type { Check, CheckInput } from '../types.ts';
import { signed } from '../wording.ts';

const MIN_SAMPLES = 10;
const MIN_FLOW_SHARE = 0.05;
const STEADY_KPA_PER_S = 20;
/** The mixture confirms a reading within this. */
const CONFIRMS_PCT = 4;

function verdict(input: CheckInput, offPct: number, wanted: number): string {
	const model = input.calibration?.fuelModel;
	if (!Number.isFinite(wanted) || (model !== 'maf' && model !== 'speed-density'))
		return 'Which of the two is wrong is left open: no mixture or fuel model tells.';
	const k = 100 * (wanted - 1);
	const [used, other] = model === 'maf' ? ['the air meter', 'the model'] : ['the model', 'the air meter'];
	if (Math.abs(k) <= CONFIRMS_PCT)
		return `The mixture is right with fuel computed from ${used}: ${other} is wrong.`;
	const expected = model === 'maf' ? offPct : -100 * (1 - 1 / (1 + offPct / 100));
	if (Math.abs(k - expected) <= CONFIRMS_PCT) return `The mixture is off by as much: ${used} is wrong.`;
	return 'The mixture agrees with neither: both may be wrong.';
}

export const airModel: Check = {
	code: 'air.model',
	run(input) {
		const { frame, segments, profile, vehicle } = input;
		const model = frame.get('airflowModel');
		const maf = frame.get('maf');
		const rpm = frame.get('rpm');
		const map = frame.get('map');
		if (!model) return notChecked('the modelled air flow is not logged', 'airflowModel');
		if (!maf) return notChecked('no air meter is logged', 'maf');
		if (!rpm || !map)
			return notChecked('engine speed and manifold pressure are not both logged', rpm ? 'map' : 'rpm');
		const top = extremes(maf).max;
		const rate = slope(map, frame.timeS, 0.2);
		const ratio = new Float32Array(frame.length).fill(Number.NaN);
		for (let i = 0; i < ratio.length; i++)
			if (
				usable(segments, i) &&
				!(segments.flags[i]! & FLAG.shift) &&
				Math.abs(rate[i]!) < STEADY_KPA_PER_S &&
				maf[i]! > top * MIN_FLOW_SHARE
			)
				ratio[i] = model[i]! / maf[i]!;
		const axes = defaultAxes(vehicle.engine.revLimitRpm, Math.max(extremes(map).max, segments.baroKpa));
		const cell = nearestCells({
			axes,
			x: rpm,
			y: map,
			value: ratio,
			use: new Uint8Array(frame.length).fill(1)
		});
		const kept = new Map<number, number[]>();
		for (let i = 0; i < cell.length; i++) {
			const c = cell[i]!;
			if (c < 0) continue;
			const list = kept.get(c);
			if (list) list.push(i);
			else kept.set(c, [i]);
		}
		let worst: { pct: number; at: number[] } | null = null;
		for (const at of kept.values()) {
			if (at.length < MIN_SAMPLES) continue;
			const pct = 100 * (median(at.map((i) => ratio[i]!)) - 1);
			if (!worst || Math.abs(pct) > Math.abs(worst.pct)) worst = { pct, at };
		}
		if (!worst) return notChecked(`no cell has ${MIN_SAMPLES} steady samples`, 'steady driving');
		const { pct, at } = worst;
		const size = Math.abs(pct);
		if (size <= profile.airModelWatchPct)
			return pass(`Model and meter agree within ${size.toFixed(1)} % in every cell.`);
		const fix = size > profile.airModelFixPct;
		const inCell = new Set(at);
		const wanted = input.required.banks[0] ? median(at.map((i) => input.required.banks[0]![i]!)) : Number.NaN;
		const m = median(at.map((i) => model[i]!));
		const f = median(at.map((i) => maf[i]!));
		return found(
			finding(input, {
				code: 'air.model',
				severity: fix ? 'fix' : 'watch',
				title: `Air model ${signed(pct, 0)} % against the meter`,
				summary: `The model gives ${m.toFixed(0)} g/s where the meter reads ${f.toFixed(0)} g/s (${signed(pct)} %); × ${(f / m).toFixed(3)} (${signed(100 * (f / m - 1))} %) closes it. ${verdict(input, pct, wanted)}`,
				value: pct,
				limit: fix ? profile.airModelFixPct : profile.airModelWatchPct,
				unit: '%',
				runs: stretches(frame, 0, (i) => inCell.has(i), 0.5),
				channels: ['airflowModel', 'maf', 'map', 'rpm'],
				causes: [
					'the efficiency table is off there',
					'the curve of the meter is off',
					'a leak between meter and engine'
				],
				next: ['decide by the mixture which of the two is right', 'correct that one by the factor']
			})
		);
	}
};
