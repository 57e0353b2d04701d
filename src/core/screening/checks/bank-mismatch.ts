/**
 * `bank.mismatch`: do the two banks need the same fuel? Compared as required corrections, so that a difference which closed-loop
 * trims hide is found in the trims. Per band of load, the worst band decides: 1 % over an hour's cruise must not dilute 9 % under boost.
 */
import { pass, notChecked, found } from '../measure.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { BANDS, bankDifferences, type BandDifference } from '../../evidence/cells/banks.ts';
import { loadBands } from '../../evidence/cells/load-bands.ts';
import { bankCount } from '../../vehicle/document.ts';
import { stretches } from '../../stats/runs.ts';
import { rangesOf, regionOf, round } from '../ranges.ts';
import { check } from '../check.ts';
import { grade } from '../types.ts';
import { fixed, list, marked, signed } from '../../format.ts';

/** The differences of the banks in a log; `null` when the log can't tell. */
function differencesOf(input: Prepared, band: Uint8Array): BandDifference[] | null {
	const [k1, k2] = input.required.banks;
	const x = input.frame.get('rpm');
	const y = input.frame.get(input.axes.yChannel) ?? input.frame.first('map', 'airmass', 'maf', 'tps');
	if (!k1 || !k2 || !x || !y || input.believed.shared) return null;
	return bankDifferences({
		axes: input.axes,
		x,
		y,
		k1,
		k2,
		band,
		dtS: input.frame.dtS,
		minSamples: input.profile.bankCellSamples
	});
}

export const bankMismatch = check({
	code: 'bank.mismatch',
	swaps: ['injectors-side-to-side', 'lambda-side-to-side', 'repair'],
	title: 'Bank against bank',
	section: 'banks',
	leads: true,
	advice: 'repair',
	doubts: ['fuel', 'injectors'],
	needs: ['layout'],
	readiness: {
		item: 'Banks',
		against: (_, p) => `within ${p.bankWatchPct} % of each other; from ${p.bankFixPct} % on to mend`
	},
	run(input) {
		const { vehicle, believed, profile, frame, axes } = input;
		if (bankCount(vehicle) === 1) return pass('The engine has one bank.');
		if (
			believed.shared ||
			believed.banks.some((b) => b === null) ||
			believed.sources.some((s) => s.every((x) => x.site === 'collector'))
		)
			return notChecked(
				'there is no lambda reading of each bank',
				believed.banks[0] === null || believed.sources[0]?.every((s) => s.site === 'collector')
					? 'lambda.b1'
					: 'lambda.b2'
			);
		if (!input.target.values) return notChecked('the lambda target is not known', 'lambda.target');
		const bandOf = loadBands(input);
		const bands = differencesOf(input, bandOf)?.filter((b) => Number.isFinite(b.absolutePct)) ?? [];
		if (bands.length === 0)
			return notChecked(
				`no cell has ${profile.bankCellSamples} usable samples of each bank`,
				'steady driving'
			);
		const missing = BANDS.filter((b) => !bands.some((x) => x.band === b));
		const says = bands
			.map((b) => `${b.band} ${signed(b.signedPct)} ± ${fixed(Math.max(0.1, b.sePct), 1)} %`)
			.join(', ');
		const unseen = missing.length ? ` Not compared for lack of samples: ${list(missing)}.` : '';
		const worst = bands.reduce((a, b) => (b.absolutePct > a.absolutePct ? b : a));
		const cells = bands.flatMap((b) => b.cells);
		const extreme = cells
			.filter((c) => c.samples >= profile.bankCellStopSamples)
			.reduce<(typeof cells)[number] | null>(
				(a, c) => (a === null || Math.abs(c.differencePct) > Math.abs(a.differencePct) ? c : a),
				null
			);
		let graded = grade(worst.absolutePct, {
			watch: profile.bankWatchPct,
			fix: profile.bankFixPct,
			stop: profile.bankStopPct
		});
		let value = worst.signedPct;
		let byCell = '';
		if (extreme && Math.abs(extreme.differencePct) > profile.bankCellStopPct && graded?.severity !== 'stop') {
			graded = { severity: 'stop', limit: profile.bankCellStopPct };
			value = extreme.differencePct;
			byCell = ` One cell alone (${cellName(extreme.cell, axes)}) is ${signed(extreme.differencePct)} % apart.`;
		}
		if (!graded) return pass(`Bank 2 against bank 1: ${says}.${unseen}`);
		const leaner = value > 0 ? 2 : 1;
		const worstBand = BANDS.indexOf(worst.band);
		const runs = stretches(frame, 0.5, (i) => bandOf[i] === worstBand, 0.5);
		return found({
			code: 'bank.mismatch',
			severity: graded.severity,
			title: `Bank ${leaner} needs ${fixed(Math.abs(value), 1)} % more fuel than bank ${leaner === 2 ? 1 : 2}`,
			summary: `Bank ${leaner} is the leaner one, worst in the ${worst.band} band (bank 2 against bank 1: ${says}).${byCell}${unseen}`,
			value: round(value, 2),
			limit: graded.limit,
			unit: '%',
			bank: leaner,
			ranges: rangesOf(runs, frame.timeS),
			region: regionOf(runs, frame),
			channels: [
				'lambda.b1',
				'lambda.b2',
				'stft.b1',
				'stft.b2',
				'ltft.b1',
				'ltft.b2',
				'lambda.ref',
				'lambda.ref2'
			].filter((id) => frame.has(id)),
			causes: [
				`an injector of bank ${leaner} that flows too little, or its wiring`,
				`an intake leak on bank ${leaner} (gasket, hose)`,
				`an exhaust leak before the sensor of bank ${leaner}`,
				'one of the two sensors reads wrong'
			],
			next: [
				'swap the injectors from side to side and log again: what moves with the part is the part',
				'if nothing moved, swap the lambda sensors from side to side and log again',
				'then intake gaskets, then exhaust leaks before the sensor',
				'no fuel is trimmed and no boost is raised until the banks agree'
			]
		});
	}
});

function cellName(cell: number, axes: Prepared['axes']): string {
	const nx = axes.x.length;
	return `${axes.x[cell % nx]} rpm, ${axes.yChannel === 'map' ? marked(axes.y[Math.floor(cell / nx)]!, 'kPa abs') : `${axes.y[Math.floor(cell / nx)]} ${axes.yChannel}`}`;
}
