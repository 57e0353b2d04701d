/** The limits as a person reads them: in the order in which a log is read, the levels of one matter in one row. */
import { LIMITS, type LimitName } from './profile.ts';

export type Level = 'watch' | 'fix' | 'stop' | null;

export interface LimitRow {
	what: string;
	/** One without a level, or one a level. */
	limits: { name: LimitName; level: Level }[];
}

export interface LimitGroup {
	title: string;
	rows: LimitRow[];
}

type Levels = Partial<Record<'watch' | 'fix' | 'stop', LimitName>>;

const levels = (what: string, by: Levels): LimitRow => ({
	what,
	limits: (['watch', 'fix', 'stop'] as const).flatMap((level) => {
		const name = by[level];
		return name ? [{ name, level }] : [];
	})
});
const one = (name: LimitName): LimitRow => ({ what: LIMITS[name].meaning, limits: [{ name, level: null }] });

const GROUPS: readonly LimitGroup[] = [
	{
		title: 'The log, and what counts as driving',
		rows: [
			levels('rate in pulls, below', { watch: 'rateWatchHz', fix: 'rateFixHz' }),
			one('loadedThrottlePct'),
			one('loadedBelowBaroKpa'),
			one('boostedAboveBaroKpa'),
			one('coolantMinC'),
			one('heatSoakC'),
			one('limiterS'),
			one('gapS'),
			one('revisionTimingDeg'),
			one('revisionTimingFarDeg'),
			one('revisionTargetLambda'),
			one('revisionTargetFarLambda')
		]
	},
	{
		title: 'Readiness',
		rows: [
			levels('coolant anywhere', { fix: 'coolantFixC', stop: 'coolantStopC' }),
			one('coolantIdleLowC'),
			one('coolantIdleHighC'),
			levels('intake air while loaded', { watch: 'intakeWatchC', fix: 'intakeFixC' }),
			one('intakeRiseC'),
			one('oilFixC'),
			one('transFixC'),
			one('fuelWatchC'),
			one('ecuWatchC'),
			one('oilPressurePer1000'),
			levels('exhaust temperature', { watch: 'egtWatchC', fix: 'egtFixC', stop: 'egtStopC' }),
			levels('supply voltage, below', { watch: 'voltLowWatch', fix: 'voltLowFix' }),
			levels('supply voltage, above', { watch: 'voltHighWatch', fix: 'voltHighFix' }),
			one('voltFall'),
			levels('idle vacuum lost', { watch: 'idleMapWatchKpa', fix: 'idleMapFixKpa' }),
			levels('trims at idle and cruise', { watch: 'trimWatchPct', fix: 'trimFixPct' }),
			one('trimMechanicalPct')
		]
	},
	{
		title: 'Which sensors are believed',
		rows: [
			levels('lambda sources of one gas apart', {
				watch: 'lambdaPairWatchPct',
				fix: 'lambdaPairFixPct',
				stop: 'lambdaPairStopPct'
			}),
			one('witnessAgreePct'),
			one('sensorAgreePct'),
			levels('manifold pressure standing still, off', { watch: 'mapWatchKpa', fix: 'mapFixKpa' }),
			one('mapStandardWatchKpa'),
			levels('ethanol off what was said', { watch: 'ethanolWatch', fix: 'ethanolFix' }),
			one('ethanolChange')
		]
	},
	{
		title: 'Mixture',
		rows: [
			levels('leaner than target while loaded', {
				watch: 'leanWatchPct',
				fix: 'leanFixPct',
				stop: 'leanStopPct'
			}),
			one('lambdaLeanBoosted'),
			one('lambdaLeanLoaded'),
			levels('richer than target while loaded', { watch: 'richWatchPct', fix: 'richFixPct' }),
			one('lambdaRichest'),
			one('lambdaRichestEthanol'),
			one('targetLeanBoosted'),
			one('targetBoosted'),
			one('targetLoaded'),
			one('trimLoadedPct'),
			one('stftMax'),
			one('trimResetPct'),
			levels('modelled against measured air', { watch: 'airModelWatchPct', fix: 'airModelFixPct' }),
			one('tableBeyondPct'),
			one('sourcesApartPct')
		]
	},
	{
		title: 'Banks',
		rows: [
			levels('difference of the banks', { watch: 'bankWatchPct', fix: 'bankFixPct', stop: 'bankStopPct' }),
			one('bankCellStopPct'),
			one('bankCellSamples'),
			one('bankCellStopSamples')
		]
	},
	{
		title: 'Cylinders',
		rows: [
			one('misfireStop'),
			levels('lambda of a cylinder off the median', {
				watch: 'cylLambdaWatchPct',
				fix: 'cylLambdaFixPct',
				stop: 'cylLambdaStopPct'
			}),
			levels('one cylinder knocks alone', { watch: 'cylKnockWatchDeg', fix: 'cylKnockFixDeg' }),
			one('cylEgtC'),
			levels('trim of a cylinder', { watch: 'cylTrimWatch', fix: 'cylTrimFix' })
		]
	},
	{
		title: 'Knock and timing',
		rows: [
			one('knockEpisodeDeg'),
			levels('peak retard', { watch: 'knockWatchDeg', fix: 'knockFixDeg', stop: 'knockStopDeg' }),
			one('monitorLevel'),
			one('monitorAgreesPct'),
			one('sensitivityPct'),
			one('sensitivityStepPct'),
			one('timidSparkDeg'),
			one('timidLambda'),
			one('timingExtraDeg'),
			one('timingMostDeg'),
			one('hottestDayC')
		]
	},
	{
		title: 'Injectors and supply',
		rows: [
			levels('injector duty', { watch: 'dutyWatchPct', fix: 'dutyFixPct', stop: 'dutyStopPct' }),
			one('dutyDiffersPoints'),
			levels('duty on the worst day', { watch: 'reserveWatchPct', fix: 'reserveFixPct' }),
			one('worstDayC'),
			one('worstDayKpa'),
			levels('fuel pressure falls short', {
				watch: 'pressureWatchPct',
				fix: 'pressureFixPct',
				stop: 'pressureStopPct'
			})
		]
	},
	{
		title: 'Boost, throttle, air',
		rows: [
			levels('boost short of its set point', { watch: 'boostUnderWatchKpa', fix: 'boostUnderFixKpa' }),
			levels('boost over its set point', {
				watch: 'boostOverWatchKpa',
				fix: 'boostOverFixKpa',
				stop: 'boostOverStopKpa'
			}),
			one('boostStepKpa'),
			one('throttleOpenPct'),
			one('throttleSlowS')
		]
	},
	{
		title: 'Drivetrain, cams, nitrous',
		rows: [
			one('shiftOffRpm'),
			one('slipPct'),
			one('camOffDeg'),
			one('nitrousOnPct'),
			one('nitrousOnTargetPct'),
			levels('nitrous adder off', { watch: 'nitrousWatchPct', fix: 'nitrousFixPct' }),
			one('nitrousDegPer50Hp')
		]
	}
];

/** Every limit of the profile in exactly one row; what has no place yet stands at the end. */
export function limitRows(): LimitGroup[] {
	const placed = new Set(GROUPS.flatMap((g) => g.rows.flatMap((r) => r.limits.map((l) => l.name))));
	const rest = (Object.keys(LIMITS) as LimitName[]).filter((n) => !placed.has(n));
	return [...GROUPS, ...(rest.length ? [{ title: 'Others', rows: rest.map(one) }] : [])];
}
