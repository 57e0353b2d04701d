/**
 * `inj.reserve`: the pulse near the limiter on the worst day, see `reserveOf`.
 */
import { fixed, marked } from '../../format.ts';
import { stretches } from '../../stats/runs.ts';
import { check, MORE_FUEL, type Told } from '../check.ts';
import { finding, found, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { fuelFactor, HOLD_S, reserveOf } from '../reserve.ts';
import { ambientOf } from '../../evidence/ambient.ts';
import { boostControlOf, worstDayAir, type BoostControl } from './worst-day.ts';

const CONTROL_WORDS: Record<BoostControl, string> = {
	absolute: 'the same absolute boost',
	gauge: 'the same boost over the barometer',
	ratio: 'the same pressure ratio',
	centrifugal: 'the same shaft speed of the charger'
};

/** The day that is projected to. */
type Day = { limitRpm: number; dayC: number; ethanolPct?: number };
type Facts = Day & { dutyPct: number; rpm: number; byTrend: boolean; control?: BoostControl };

const dayWords = ({ limitRpm, dayC, ethanolPct }: Day): string =>
	`at ${limitRpm} rpm on a day of ${marked(dayC, '°C')}${ethanolPct === undefined ? '' : ` with ${ethanolPct} % ethanol`}`;

export const injReserve = check({
	code: 'inj.reserve',
	title: 'Injectors on the worst day',
	section: 'supply',
	advice: 'part',
	remedy: MORE_FUEL,
	needs: ['displacement', 'window', 'deadTime'],
	units: { limitRpm: 'rpm', dayC: '°C', ethanolPct: '%', dutyPct: '%', rpm: 'rpm' },
	run(input) {
		const { frame, segments, profile, vehicle, request } = input;
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const rpm = frame.get('rpm')!;
		const iat = frame.get('iat');
		const map = frame.get('map');
		const ambientC = ambientOf(input);
		const limitRpm = vehicle.engine.revLimitRpm;
		const nowPct = vehicle.fuel?.ethanolPct ?? 0;
		const mostPct = Math.max(nowPct, request?.conditions?.ethanolPct ?? 0);
		const control = boostControlOf(vehicle);
		const top = reserveOf(input, {
			air: (i) =>
				worstDayAir(
					control,
					{ mapKpa: map?.[i] ?? segments.baroKpa, iatC: iat![i]!, ambientC, baroKpa: segments.baroKpa },
					profile
				),
			factor: vehicle.fuel?.stoich === undefined ? fuelFactor(nowPct, mostPct) : 1,
			limitRpm
		});
		if ('why' in top) return notChecked(top.why, top.missing);
		const { level, projected, reached } = top;
		const day: Day = {
			limitRpm,
			dayC: profile.worstDayC,
			...(mostPct > nowPct ? { ethanolPct: mostPct } : {})
		};
		if (level <= profile.reserveWatchPct)
			return pass(`Duty projected to ${fixed(level, 0)} % ${dayWords(day)}.`);
		const fix = level > profile.reserveFixPct;
		const limit = fix ? profile.reserveFixPct : profile.reserveWatchPct;
		return found(
			finding(input, {
				severity: fix ? 'fix' : 'watch',
				facts: {
					...day,
					dutyPct: level,
					rpm: rpm[top.at]!,
					byTrend: !reached,
					...(control ? { control } : {})
				},
				value: level,
				limit,
				unit: '%',
				runs: stretches(frame, HOLD_S, (i) => projected[i]! > limit, 0.2),
				channels: ['pw.b1', 'pw.b2', 'rpm', 'iat', 'ambientTemp']
			})
		);
	},
	words: ({ facts }: Told<Facts>) => {
		const { dutyPct, rpm, byTrend, limitRpm, control } = facts;
		return {
			title: `Injectors at ${fixed(dutyPct, 0)} % on the worst day`,
			summary: `The pulse at ${Math.round(rpm)} rpm, carried over to the worst day${byTrend ? ` and by its trend to ${limitRpm} rpm` : ''}, is ${fixed(dutyPct, 0)} % duty ${dayWords(facts)}${control ? `, ${CONTROL_WORDS[control]}` : ''}.`,
			causes: [
				'injectors too small for this power in cold air',
				'a rev limit or a blend above what they were chosen for'
			],
			next: ['bigger injectors, more base pressure, less boost or less ethanol before winter']
		};
	}
});
