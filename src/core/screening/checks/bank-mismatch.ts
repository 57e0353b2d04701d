/**
 * `bank.mismatch`: do the two banks need the same fuel? Compared as required corrections, so that a difference which closed-loop
 * trims hide is found in the trims. Per band of load, the worst band decides: 1 % over an hour's cruise must not dilute 9 % under boost.
 */
import { finding, found, notChecked, pass } from '../measure.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { BANDS, bankDifferences, type BandDifference } from '../../evidence/cells/banks.ts';
import { loadBands } from '../../evidence/cells/load-bands.ts';
import { bankCount } from '../../vehicle/facts.ts';
import { stretches } from '../../stats/runs.ts';
import { check, type Told } from '../check.ts';
import { grade, rank, type Severity } from '../types.ts';
import { CERTAIN_SE, placesOf } from '../../evidence/cells/places.ts';
import { worstPlace } from '../by-place.ts';
import { derived } from '../../logfile/columns.ts';
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

type Facts = {
	apartPct: number;
	worst: (typeof BANDS)[number];
	/** Per band: bank 2 against bank 1, and its standard error. */
	bands: string[];
	signedPct: number[];
	sePct: number[];
	unseen?: string[];
	/** A cell that decides alone: its place and its difference. */
	cellRpm?: number;
	cellLoad?: number;
	cellBy?: string;
	cellPct?: number;
	/** A place that decides: engine speed under load, difference and its standard error. */
	placeRpm?: number[];
	placePct?: number;
	placeSePct?: number;
	/** Share of the compared driving within 1 and within 2 %, percent. */
	withinPct?: number[];
};

const says = ({ bands, signedPct, sePct }: Facts): string =>
	bands.map((b, i) => `${b} ${signed(signedPct[i]!)} ± ${fixed(Math.max(0.1, sePct[i]!), 1)} %`).join(', ');
const unseenWords = ({ unseen }: Facts): string =>
	unseen?.length ? ` Not compared for lack of samples: ${list(unseen)}.` : '';

const LOADED = BANDS.indexOf('loaded');

/** Bank 2 against bank 1 per sample, percent. */
function apartAlong({ required }: Prepared): Float32Array {
	const [k1, k2] = required.banks;
	return derived(k2!, (k, i) => 100 * (k / k1![i]! - 1));
}

const loadedPlaces = ({ frame }: Prepared, value: Float32Array, band: Uint8Array) =>
	placesOf({
		rpm: frame.get('rpm') ?? new Float32Array(frame.length),
		value,
		band: band.map((b) => (b === LOADED ? b : 255)),
		timeS: frame.timeS,
		dtS: frame.dtS
	});

/** Shares of the compared driving in which the banks are within 1 and within 2 % of each other, by second-long means. */
function sharesWithin(off: Float32Array, band: Uint8Array, dtS: Float64Array): number[] {
	let [all, one, two, seconds, sum] = [0, 0, 0, 0, 0];
	for (let i = 0; i < off.length; i++) {
		if (band[i] === 255 || off[i] !== off[i]) continue;
		seconds += dtS[i]!;
		sum += off[i]! * dtS[i]!;
		if (seconds < 1) continue;
		const mean = Math.abs(sum / seconds);
		all++;
		if (mean <= 1) one++;
		if (mean <= 2) two++;
		seconds = sum = 0;
	}
	return all ? [(100 * one) / all, (100 * two) / all] : [];
}

const withinWords = ({ withinPct }: Facts): string =>
	withinPct?.length
		? ` Within 1 % for ${fixed(withinPct[0]!, 0)} % of the driving, within 2 % for ${fixed(withinPct[1]!, 0)} %.`
		: '';

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
	units: {
		apartPct: '%',
		signedPct: '%',
		sePct: '%',
		cellRpm: 'rpm',
		cellLoad: '',
		cellPct: '%',
		placeRpm: 'rpm',
		placePct: '%',
		placeSePct: '%',
		withinPct: '%'
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
		const worst = bands.reduce((a, b) => (b.absolutePct > a.absolutePct ? b : a));
		const cells = bands.flatMap((b) => b.cells);
		const extreme = cells
			.filter((c) => c.samples >= profile.bankCellStopSamples)
			.reduce<(typeof cells)[number] | null>(
				(a, c) => (a === null || Math.abs(c.differencePct) > Math.abs(a.differencePct) ? c : a),
				null
			);
		let graded: { severity: Severity; limit: number } | null = grade(worst.absolutePct, {
			watch: profile.bankWatchPct,
			fix: profile.bankFixPct,
			stop: profile.bankStopPct
		});
		let value = worst.signedPct;
		let place: Pick<Facts, 'placeRpm' | 'placePct' | 'placeSePct'> = {};
		const off = apartAlong(input);
		const decided = worstPlace(loadedPlaces(input, off, bandOf), {
			watch: profile.bankWatchPct,
			fix: profile.bankFixPct,
			stop: profile.bankStopPct
		});
		if (decided && (!graded || rank(decided.severity) < rank(graded.severity))) {
			const { rpm, mean, se } = decided.place;
			graded = decided;
			value = mean;
			place = { placeRpm: rpm, placePct: mean, placeSePct: se };
		}
		let cell: Pick<Facts, 'cellRpm' | 'cellLoad' | 'cellBy' | 'cellPct'> = {};
		if (extreme && Math.abs(extreme.differencePct) > profile.bankCellStopPct && graded?.severity !== 'stop') {
			graded = { severity: 'stop', limit: profile.bankCellStopPct };
			place = {};
			value = extreme.differencePct;
			cell = { ...cellPlace(extreme.cell, axes), cellPct: extreme.differencePct };
		}
		const facts: Facts = {
			apartPct: value,
			worst: worst.band,
			bands: bands.map((b) => b.band),
			signedPct: bands.map((b) => b.signedPct),
			sePct: bands.map((b) => b.sePct),
			...(missing.length ? { unseen: missing } : {}),
			...cell,
			...place,
			withinPct: sharesWithin(off, bandOf, frame.dtS)
		};
		if (!graded)
			return pass(`Bank 2 against bank 1: ${says(facts)}.${withinWords(facts)}${unseenWords(facts)}`);
		const leaner = value > 0 ? 2 : 1;
		const worstBand = BANDS.indexOf(worst.band);
		const rpm = frame.get('rpm')!;
		const at = place.placeRpm;
		const runs = at
			? stretches(frame, 0, (i) => bandOf[i] === LOADED && rpm[i]! >= at[0]! && rpm[i]! < at[1]!, 0.3)
			: stretches(frame, 0.5, (i) => bandOf[i] === worstBand, 0.5);
		return found(
			finding(input, {
				severity: graded.severity,
				facts,
				value,
				limit: graded.limit,
				unit: '%',
				bank: leaner,
				runs,
				channels: [
					'lambda.b1',
					'lambda.b2',
					'stft.b1',
					'stft.b2',
					'ltft.b1',
					'ltft.b2',
					'lambda.ref',
					'lambda.ref2'
				]
			})
		);
	},
	words: ({ facts, bank: leaner }: Told<Facts>) => {
		const { cellRpm, cellLoad, cellBy, cellPct, placeRpm, placePct, placeSePct } = facts;
		const load = cellBy === 'map' ? marked(cellLoad!, 'kPa abs') : `${cellLoad} ${cellBy}`;
		const byCell =
			cellPct === undefined ? '' : ` One cell alone (${cellRpm} rpm, ${load}) is ${signed(cellPct)} % apart.`;
		const where = placeRpm
			? `between ${placeRpm[0]} and ${placeRpm[1]} rpm under load: ${signed(placePct!)} ± ${fixed(CERTAIN_SE * placeSePct!, 1)} % there`
			: `in the ${facts.worst} band`;
		return {
			title: `Bank ${leaner} needs ${fixed(Math.abs(facts.apartPct), 1)} % more fuel than bank ${leaner === 2 ? 1 : 2}${placeRpm ? ` around ${(placeRpm[0]! + placeRpm[1]!) / 2} rpm` : ''}`,
			summary: `Bank ${leaner} is the leaner one, worst ${where} (bank 2 against bank 1: ${says(facts)}).${byCell}${withinWords(facts)}${unseenWords(facts)}`,
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
		};
	}
});

function cellPlace(cell: number, { x, y, yChannel }: Prepared['axes']) {
	return { cellRpm: x[cell % x.length]!, cellLoad: y[Math.floor(cell / x.length)]!, cellBy: yChannel };
}
