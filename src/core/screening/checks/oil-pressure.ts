/** `oil.pressure`: lowest oil pressure per 1000 rpm while loaded and warm. */
import { fixed, markedBy } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { derived } from '../../logfile/columns.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldLow, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

const HOLD_S = 0.2;

type Facts = { oilKpa: number; rpm: number; per1000Kpa: number; takesKpa: number };

const said = ({ oilKpa, rpm }: Pick<Facts, 'oilKpa' | 'rpm'>): string =>
	`${markedBy(oilKpa, 'kPa')} at ${fixed(rpm, 0)} rpm`;

export const oilPressure = check({
	code: 'oil.pressure',
	title: 'Oil pressure',
	section: 'readiness',
	advice: 'repair',
	readiness: {
		item: 'Oil pressure',
		against: (_, p) => `${markedBy(p.oilPressurePer1000, 'kPa')} per 1000 rpm under load`
	},
	units: { oilKpa: 'kPa', rpm: 'rpm', per1000Kpa: 'kPa', takesKpa: 'kPa' },
	run(input) {
		const { frame, segments, profile } = input;
		const pressure = frame.get('oilPressure');
		const rpm = frame.get('rpm');
		if (!pressure) return notChecked('oil pressure is not logged', 'oilPressure');
		if (!rpm) return notChecked('engine speed is not logged', 'rpm');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const per1000 = derived(pressure, (p, i) => p / (rpm[i]! / 1000), segments.loaded);
		const warm = (i: number) => !(segments.flags[i]! & FLAG.warmup);
		const low = heldLow(frame, per1000, HOLD_S, segments.loaded, warm);
		if (low.at < 0) return notChecked('the engine was not loaded while warm', 'loaded driving');
		const limit = profile.oilPressurePer1000;
		const there = { oilKpa: pressure[low.at]!, rpm: rpm[low.at]! };
		if (low.level >= limit) return pass(`Lowest oil pressure under load ${said(there)}.`);
		return found(
			finding(input, {
				severity: 'stop',
				facts: { ...there, per1000Kpa: low.level, takesKpa: limit },
				value: low.level,
				limit,
				unit: 'kPa',
				runs: stretches(frame, HOLD_S, (i) => warm(i) && per1000[i]! < limit, 0.2),
				channels: ['oilPressure', 'oilTemp', 'rpm']
			})
		);
	},
	words: ({ facts }: Told<Facts>) => ({
		title: `Oil pressure ${said(facts)}`,
		summary: `Under load the oil pressure fell to ${markedBy(facts.per1000Kpa, 'kPa')} per 1000 rpm (${said(facts)}); it takes ${markedBy(facts.takesKpa, 'kPa')}.`,
		causes: [
			'oil level, or oil that surges away from the pickup',
			'oil too hot or too thin',
			'bearings or pump',
			'the sensor'
		],
		next: ['no more load until it is explained', 'level first, then a mechanical gauge']
	})
});
