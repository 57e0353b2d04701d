/**
 * Every limit that a check, a hold or a proposal compares with, in one object. A vehicle overrides any of them under `limits`, and a
 * screening run stores the profile that it used.
 */
export interface LimitMeaning {
	readonly value: number;
	readonly unit: string;
	readonly meaning: string;
	/** Where the default comes from. */
	readonly source: 'own choice' | 'common practice';
}

const limit = (
	value: number,
	unit: string,
	meaning: string,
	source: LimitMeaning['source'] = 'own choice'
): LimitMeaning => ({ value, unit, meaning, source });
const practised = (value: number, unit: string, meaning: string) =>
	limit(value, unit, meaning, 'common practice');

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
	dutyDiffersPoints: limit(3, '%', 'logged duty off what the pulse width gives'),
	rateWatchHz: limit(10, 'Hz', 'rate in pulls: watch below'),
	rateFixHz: limit(5, 'Hz', 'rate in pulls: fix below'),
	coolantMinC: limit(70, '°C', 'coolant from which an engine counts as warm'),
	heatSoakC: limit(20, '°C', 'intake air this much over ambient is heat soak'),
	coolantFixC: limit(110, '°C', 'coolant anywhere: fix'),
	coolantStopC: limit(118, '°C', 'coolant anywhere: stop'),
	coolantIdleLowC: limit(76, '°C', 'warm-idle coolant, lower end, where the vehicle has no band of its own'),
	coolantIdleHighC: limit(
		100,
		'°C',
		'warm-idle coolant, upper end, where the vehicle has no band of its own'
	),
	intakeWatchC: limit(60, '°C', 'intake air while loaded: watch'),
	intakeFixC: limit(75, '°C', 'intake air while loaded: fix'),
	intakeRiseC: limit(25, '°C', 'rise of the intake air within one pull: watch'),
	oilFixC: limit(130, '°C', 'oil temperature: fix'),
	transFixC: limit(115, '°C', 'gearbox temperature: fix'),
	fuelWatchC: limit(65, '°C', 'fuel temperature: watch'),
	ecuWatchC: limit(85, '°C', 'controller temperature: watch'),
	oilPressurePer1000: limit(70, 'kPa', 'oil pressure per 1000 rpm while loaded and warm: stop below'),
	egtWatchC: limit(900, '°C', 'exhaust temperature: watch'),
	egtFixC: limit(950, '°C', 'exhaust temperature: fix'),
	egtStopC: limit(1000, '°C', 'exhaust temperature: stop'),
	voltLowWatch: limit(12.5, 'V', 'supply while running: watch below'),
	voltLowFix: limit(12, 'V', 'supply while running: fix below'),
	voltHighWatch: limit(15, 'V', 'supply while running: watch above'),
	voltHighFix: limit(15.5, 'V', 'supply while running: fix above'),
	voltFall: limit(0.8, 'V', 'fall of the supply within a pull: watch'),
	idleMapWatchKpa: limit(10, 'kPa', "idle manifold pressure over the vehicle's own: watch"),
	idleMapFixKpa: limit(17, 'kPa', "idle manifold pressure over the vehicle's own: fix"),
	trimWatchPct: limit(5, '%', 'closed-loop and learned trim together, part load: watch'),
	trimFixPct: limit(10, '%', 'closed-loop and learned trim together, part load: fix'),
	trimMechanicalPct: limit(20, '%', 'trim from which a mechanical cause is looked for first'),
	trimLoadedPct: limit(8, '%', 'closed-loop correction while loaded: fix'),
	stftMax: limit(25, '%', 'end of the closed-loop correction'),
	lambdaPairWatchPct: limit(3, '%', 'difference of two lambda sources: watch'),
	lambdaPairFixPct: limit(5, '%', 'difference of two lambda sources: fix'),
	lambdaPairStopPct: limit(8, '%', 'difference of two lambda sources: stop'),
	witnessAgreePct: limit(2, '%', 'two witnesses that agree this well outvote a third'),
	mapWatchKpa: limit(3, 'kPa', 'standing manifold pressure against the barometer: watch'),
	mapFixKpa: limit(6, 'kPa', 'standing manifold pressure against the barometer: fix'),
	mapStandardWatchKpa: limit(8, 'kPa', 'the same where only standard pressure is there to compare: watch'),
	ethanolWatch: limit(10, '%', 'points between logged and declared ethanol: watch'),
	ethanolFix: limit(20, '%', 'points between logged and declared ethanol: fix'),
	ethanolChange: limit(5, '%', 'points that the ethanol changes within a log: watch'),
	targetLeanBoosted: limit(0.9, 'λ', 'leanest target under boost'),
	richWatchPct: limit(5, '%', 'richer than target while loaded: watch'),
	richFixPct: limit(10, '%', 'richer than target while loaded: fix'),
	lambdaRichest: limit(0.7, 'λ', 'richest mixture while loaded: fix below'),
	lambdaRichestEthanol: limit(0.62, 'λ', 'the same with 70 % ethanol and more, or methanol'),
	airModelWatchPct: limit(5, '%', 'modelled against measured air flow: watch'),
	airModelFixPct: limit(10, '%', 'modelled against measured air flow: fix'),
	trimResetPct: limit(
		3,
		'%',
		'learned trim in the first warm minutes after a reset was asked for: fix above'
	),
	tableBeyondPct: limit(
		5,
		'%',
		"share of an axis' span that loaded driving lies beyond its end: fix above, note below"
	),
	misfireStop: limit(10, '', 'misfires in one pull: stop above'),
	cylLambdaWatchPct: limit(3, '%', 'lambda of a cylinder against the others: watch'),
	cylLambdaFixPct: limit(5, '%', 'a cylinder leaner than the others: fix'),
	cylLambdaStopPct: limit(8, '%', 'a cylinder leaner than the others: stop'),
	cylKnockWatchDeg: limit(1.5, '°', 'retard of one or two cylinders alone: watch'),
	cylKnockFixDeg: limit(3, '°', 'retard of one or two cylinders alone: fix'),
	cylEgtC: limit(60, '°C', 'spread of exhaust temperatures at steady load: watch'),
	cylTrimWatch: limit(3, '%', 'points of fuel trim of a cylinder against the median: watch'),
	cylTrimFix: limit(5, '%', 'points of fuel trim of a cylinder against the median: fix'),
	monitorLevel: limit(50, '', 'level of the independent monitor that is knock'),
	monitorAgreesPct: limit(
		10,
		'%',
		'share of the retard in which the monitor is active: it agrees from here on'
	),
	sensitivityPct: limit(50, '%', 'knock sensitivity below which it counts as disabled'),
	timidSparkDeg: limit(8, '°', 'full-load timing below which somebody was afraid'),
	timidLambda: limit(0.75, 'λ', 'mixture that makes timid timing worth watching'),
	reserveWatchPct: limit(85, '%', 'injector duty projected to the worst day: watch'),
	reserveFixPct: limit(95, '%', 'injector duty projected to the worst day: fix'),
	worstDayC: limit(-10, '°C', 'air of the worst day'),
	hottestDayC: limit(35, '°C', 'outside air of the hottest day of the season'),
	worstDayKpa: limit(103, 'kPa', 'air pressure of the worst day'),
	pressureWatchPct: limit(8, '%', 'pressure over the injector below what it should be: watch'),
	pressureFixPct: limit(15, '%', 'pressure over the injector below what it should be: fix'),
	pressureStopPct: limit(25, '%', 'pressure over the injector below what it should be: stop'),
	gapS: limit(0.5, 's', 'time without a sample that is a gap of the recording'),
	revisionTimingDeg: limit(
		0.5,
		'°',
		'logged timing this much nearer to another revision: another file in the car'
	),
	revisionTargetLambda: limit(
		0.01,
		'λ',
		'logged target this much nearer to another revision: another file in the car'
	),
	revisionTimingFarDeg: limit(
		1.5,
		'°',
		'logged timing this far off every revision: none of them is in the car'
	),
	revisionTargetFarLambda: limit(
		0.015,
		'λ',
		'logged target this far off every revision: none of them is in the car'
	),
	limiterS: limit(0.5, 's', 'time at the rev limiter in a pull: watch above'),
	boostUnderWatchKpa: limit(10, 'kPa', 'boost below its set point: watch'),
	boostUnderFixKpa: limit(20, 'kPa', 'boost below its set point: fix'),
	boostOverWatchKpa: limit(7, 'kPa', 'boost above its set point: watch'),
	boostOverFixKpa: limit(14, 'kPa', 'boost above its set point: fix'),
	boostOverStopKpa: limit(25, 'kPa', 'boost above its set point: stop'),
	throttleOpenPct: limit(
		90,
		'%',
		'share of the fully open throttle that counts as closing under a flat pedal'
	),
	throttleSlowS: limit(0.4, 's', 'time from a flat pedal to an open throttle: note above'),
	shiftOffRpm: limit(300, 'rpm', 'upshift at full throttle off the requested speed: note above'),
	boostStepKpa: limit(35, 'kPa', 'most boost that one revision may add'),
	sensitivityStepPct: practised(5, '%', 'points that knock sensitivity may come down in one revision'),
	timingExtraDeg: practised(1, '°', 'timing taken out beyond the retard that was seen'),
	timingMostDeg: limit(4, '°', 'most timing that one revision takes out for knock'),
	sourcesApartPct: limit(
		5,
		'%',
		'lambda sources of a bank this far apart: no fuel is taken out on their word'
	),
	slipPct: limit(5, '%', "engine speed off the gear's ratio in a pull: wheelspin"),
	camOffDeg: limit(5, '°', 'cam off its target while loaded: watch'),
	nitrousOnPct: limit(1, '%', 'solenoid duty from which nitrous flows'),
	nitrousOnTargetPct: practised(
		2,
		'%',
		'mixture within this of its target: only there fuel with nitrous is judged'
	),
	nitrousWatchPct: limit(3, '%', 'fuel with nitrous against what should flow: watch'),
	nitrousFixPct: limit(8, '%', 'fuel with nitrous against what should flow: fix'),
	nitrousDegPer50Hp: limit(2, '°', 'timing taken out per 50 hp of nitrous: fix below'),
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
