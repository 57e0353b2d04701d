/**
 * `air.model`: the modelled air flow against the metered one, per cell of engine speed and pressure. Which of the two is wrong is
 * decided by the mixture: the one that the fuel was computed from, when the mixture is off by as much.
 */
import type { Prepared } from '../../evidence/prepared.ts';
import { CONFIRMS_PCT, modelOverMeter } from '../../evidence/air-ratio.ts';
import { nearestCells, samplesByCell } from '../../evidence/cells/stats.ts';
import { defaultAxes } from '../../calibration/grid.ts';
import { usable } from '../../evidence/lambda/required.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, medianAt, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { fixed, signed } from '../../format.ts';

const MIN_SAMPLES = 10;

/** What the mixture says of the two. */
type Verdict = 'open' | 'right' | 'as-much' | 'neither';
type Facts = { pct: number; modelGs: number; meterGs: number; verdict: Verdict; from?: 'meter' | 'model' };

function verdictOf(input: Prepared, offPct: number, wanted: number): Pick<Facts, 'verdict' | 'from'> {
	const model = input.calibration?.fuelModel;
	if (!Number.isFinite(wanted) || (model !== 'maf' && model !== 'speed-density')) return { verdict: 'open' };
	const from = model === 'maf' ? 'meter' : 'model';
	const k = 100 * (wanted - 1);
	if (Math.abs(k) <= CONFIRMS_PCT) return { verdict: 'right', from };
	const expected = model === 'maf' ? offPct : -100 * (1 - 1 / (1 + offPct / 100));
	return { verdict: Math.abs(k - expected) <= CONFIRMS_PCT ? 'as-much' : 'neither', from };
}

function verdictWords({ verdict, from }: Facts): string {
	const [used, other] = from === 'meter' ? ['the air meter', 'the model'] : ['the model', 'the air meter'];
	return {
		open: 'Which of the two is wrong is left open: no mixture or fuel model tells.',
		right: `The mixture is right with fuel computed from ${used}: ${other} is wrong.`,
		'as-much': `The mixture is off by as much: ${used} is wrong.`,
		neither: 'The mixture agrees with neither: both may be wrong.'
	}[verdict];
}

export const airModel = check({
	code: 'air.model',
	title: 'Air model',
	section: 'mixture',
	units: { pct: '%', modelGs: 'g/s', meterGs: 'g/s' },
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
		const ratio = modelOverMeter(input)!.map((v, i) => (usable(segments, i) ? v : Number.NaN));
		const axes = defaultAxes(
			vehicle.engine.revLimitRpm,
			Math.max(frame.bounds('map')!.max || 0, segments.baroKpa)
		);
		const count = axes.x.length * axes.y.length;
		const { start, samples } = samplesByCell(nearestCells({ axes, x: rpm, y: map, value: ratio }), count);
		let worst: { pct: number; at: Int32Array } | null = null;
		for (let c = 0; c < count; c++) {
			const at = samples.subarray(start[c]!, start[c + 1]!);
			if (at.length < MIN_SAMPLES) continue;
			const pct = 100 * (medianAt(ratio, at) - 1);
			if (!worst || Math.abs(pct) > Math.abs(worst.pct)) worst = { pct, at };
		}
		if (!worst) return notChecked(`no cell has ${MIN_SAMPLES} steady samples`, 'steady driving');
		const { pct, at } = worst;
		const size = Math.abs(pct);
		if (size <= profile.airModelWatchPct)
			return pass(`Model and meter agree within ${fixed(size, 1)} % in every cell.`);
		const fix = size > profile.airModelFixPct;
		const inCell = new Set(at);
		const wanted = input.required.banks[0] ? medianAt(input.required.banks[0], at) : Number.NaN;
		return found(
			finding(input, {
				severity: fix ? 'fix' : 'watch',
				facts: {
					pct,
					modelGs: medianAt(model, at),
					meterGs: medianAt(maf, at),
					...verdictOf(input, pct, wanted)
				},
				value: pct,
				limit: fix ? profile.airModelFixPct : profile.airModelWatchPct,
				unit: '%',
				runs: stretches(frame, 0, (i) => inCell.has(i), 0.5),
				channels: ['airflowModel', 'maf', 'map', 'rpm']
			})
		);
	},
	words: ({ facts }: Told<Facts>) => {
		const { pct, modelGs, meterGs } = facts;
		const factor = meterGs / modelGs;
		return {
			title: `Air model ${signed(pct, 0)} % against the meter`,
			summary: `The model gives ${fixed(modelGs, 0)} g/s where the meter reads ${fixed(meterGs, 0)} g/s (${signed(pct)} %); × ${fixed(factor, 3)} (${signed(100 * (factor - 1))} %) closes it. ${verdictWords(facts)}`,
			causes: [
				'the efficiency table is off there',
				'the curve of the meter is off',
				'a leak between meter and engine'
			],
			next: ['decide by the mixture which of the two is right', 'correct that one by the factor']
		};
	}
});
