/**
 * Every limit of the checks, in one object. Defaults are our own choice; a vehicle overrides any of them under `limits`, and a
 * screening run stores the profile that it used.
 */
export interface LimitMeaning {
	readonly value: number;
	readonly unit: string;
	readonly meaning: string;
}

const limit = (value: number, unit: string, meaning: string): LimitMeaning => ({ value, unit, meaning });

export const LIMITS = {
	loadedThrottlePct: limit(90, '%', 'pedal or throttle from which the engine counts as loaded'),
	loadedBelowBaroKpa: limit(10, 'kPa', 'manifold pressure this close to the barometer counts as loaded'),
	boostedAboveBaroKpa: limit(20, 'kPa', 'manifold pressure above the barometer that counts as boosted'),
	leanWatchPct: limit(3, '%', 'leaner than target while loaded: watch'),
	leanFixPct: limit(5, '%', 'leaner than target while loaded: fix'),
	leanStopPct: limit(8, '%', 'leaner than target while loaded: stop'),
	lambdaLeanBoosted: limit(0.85, 'λ', 'leanest mixture under boost'),
	lambdaLeanLoaded: limit(1.0, 'λ', 'leanest mixture at full throttle without boost'),
	targetBoosted: limit(0.8, 'λ', 'stands in for an unknown target under boost'),
	targetLoaded: limit(0.88, 'λ', 'stands in for an unknown target at full throttle without boost'),
	bankWatchPct: limit(2, '%', 'difference of the banks: watch'),
	bankFixPct: limit(4, '%', 'difference of the banks: fix'),
	bankStopPct: limit(8, '%', 'difference of the banks: stop'),
	bankCellStopPct: limit(10, '%', 'difference of the banks in one cell: stop'),
	bankCellSamples: limit(20, '', 'samples of each bank that a cell needs'),
	bankCellStopSamples: limit(60, '', 'samples of each bank that a cell needs to stop the job by itself'),
	knockEpisodeDeg: limit(0.5, '°', 'retard from which a knock episode counts'),
	knockWatchDeg: limit(1, '°', 'peak retard: watch'),
	knockFixDeg: limit(3, '°', 'peak retard: fix'),
	knockStopDeg: limit(6, '°', 'peak retard: stop'),
	dutyWatchPct: limit(80, '%', 'injector duty: watch'),
	dutyFixPct: limit(85, '%', 'injector duty: fix'),
	dutyStopPct: limit(95, '%', 'injector duty: stop'),
	rateWatchHz: limit(10, 'Hz', 'rate in pulls: watch below'),
	rateFixHz: limit(5, 'Hz', 'rate in pulls: fix below'),
	coolantMinC: limit(70, '°C', 'coolant from which an engine counts as warm'),
	heatSoakC: limit(20, '°C', 'intake air this much over ambient is heat soak'),
	sensorAgreePct: limit(3, '%', 'lambda sources of one gas path that agree this well are averaged')
} as const satisfies Record<string, LimitMeaning>;

export type LimitName = keyof typeof LIMITS;
export type Profile = Readonly<Record<LimitName, number>>;

/** Defaults with a vehicle's own values over them; names that aren't limits are ignored here. */
export function profileOf(overrides: Readonly<Record<string, number>> = {}): Profile {
	const names = Object.keys(LIMITS) as LimitName[];
	return Object.fromEntries(names.map((n) => [n, overrides[n] ?? LIMITS[n].value])) as Record<
		LimitName,
		number
	>;
}
