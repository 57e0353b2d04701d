/** `temp.intake`, `temp.oil`, `temp.trans`, `temp.ecu`, `temp.fuel`, `temp.exhaust`: the highest that was held, against limits. */
import { marked, markedBy } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Profile } from '../../limits/profile.ts';
import type { Frame } from '../../logfile/frame.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import { finding, found, heldHigh, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type About, type Check, type Told } from '../check.ts';
import { grade } from '../types.ts';

/** Temperatures move slowly: what isn't held for this long is a bad reading. */
const HOLD_S = 1;

type Facts = { levelC: number; limitC: number };

function simple<const C extends string>(
	code: C,
	about: About,
	channel: string,
	title: string,
	limits: (p: Profile) => { watch?: number; fix?: number },
	causes: string[],
	next: string[]
): Check<C, Facts> {
	return {
		code,
		...about,
		units: { levelC: '°C', limitC: '°C' },
		run(input) {
			const { frame, profile, segments } = input;
			const values = frame.get(channel);
			if (!values) return notChecked(`${title.toLowerCase()} is not logged`, channel);
			const top = heldHigh(frame, values, HOLD_S, segments.running);
			if (top.at < 0) return notChecked(`${title.toLowerCase()} holds no values`, channel);
			const graded = grade(top.level, limits(profile));
			if (!graded) return pass(`Highest ${title.toLowerCase()} ${marked(top.level, '°C', 0)}.`);
			return found(
				finding(input, {
					severity: graded.severity,
					facts: { levelC: top.level, limitC: graded.limit },
					value: top.level,
					limit: graded.limit,
					unit: '°C',
					runs: stretches(frame, HOLD_S, (i) => values[i]! > graded.limit, 2, segments.running),
					channels: [channel, 'rpm']
				})
			);
		},
		words: ({ facts: { levelC, limitC } }) => ({
			title: `${title} ${marked(levelC, '°C', 0)}`,
			summary: `${title} reached ${marked(levelC, '°C', 0)}; the limit is ${marked(limitC, '°C')}.`,
			causes,
			next
		})
	};
}

export const tempOil = simple(
	'temp.oil',
	{
		title: 'Oil temperature',
		section: 'readiness',
		advice: 'repair',
		readiness: { item: 'Oil temperature', against: (_, p) => `under ${marked(p.oilFixC, '°C')}` }
	},
	'oilTemp',
	'Oil temperature',
	(p) => ({ fix: p.oilFixC }),
	['no oil cooler, or one without air', 'long pulls without a pause', 'too little oil'],
	['let it cool, look at the level', 'shorter runs, or a cooler']
);
export const tempTrans = simple(
	'temp.trans',
	{
		title: 'Gearbox temperature',
		section: 'readiness',
		advice: 'repair',
		readiness: { item: 'Gearbox', against: (_, p) => `under ${marked(p.transFixC, '°C')}` }
	},
	'transTemp',
	'Gearbox temperature',
	(p) => ({ fix: p.transFixC }),
	['a slipping converter or clutch', 'towing or many pulls without a pause', 'a blocked cooler'],
	['let it cool before anything else', 'look at the fluid and the cooler']
);
export const tempEcu = simple(
	'temp.ecu',
	{
		title: 'Controller temperature',
		section: 'readiness'
	},
	'ecuTemp',
	'Controller temperature',
	(p) => ({ watch: p.ecuWatchC }),
	['mounted near the exhaust or the turbo', 'no air around it'],
	['give it air or another place']
);

/** Hot fuel is thinner, and near its boiling point it makes vapour: the mixture leans out where nothing was changed. */
export const tempFuel = simple(
	'temp.fuel',
	{
		title: 'Fuel temperature',
		section: 'readiness'
	},
	'fuelTemp',
	'Fuel temperature',
	(p) => ({ watch: p.fuelWatchC }),
	['a return line that carries heat back to the tank', 'a tank that is nearly empty', 'heat soak'],
	['fill up and let it cool before mixture is judged', 'log fuel pressure beside it']
);

/** `hot`: over a limit; `riseC`: what it rose within one pull, where that is too much. */
type IntakeFacts = { intakeC: number; hot: boolean; riseC?: number };

export const tempIntake = check({
	code: 'temp.intake',
	title: 'Intake air',
	section: 'readiness',
	advice: 'part',
	remedy: 'a better charge cooler',
	readiness: { item: 'Intake air', against: (_, p) => `under ${marked(p.intakeWatchC, '°C')} while loaded` },
	units: { intakeC: '°C', riseC: '°C' },
	run(input) {
		const { frame, segments, profile } = input;
		const iat = frame.get('iat');
		if (!iat) return notChecked('intake air temperature is not logged', 'iat');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const top = heldHigh(frame, iat, 0.3, segments.loaded);
		if (top.at < 0) return notChecked('intake air has no value while loaded', 'iat');
		let rise = 0;
		let riseAt = segments.pulls[0];
		for (const p of segments.pulls) {
			const r = iat[p.to]! - iat[p.from]!;
			if (r > rise) {
				rise = r;
				riseAt = p;
			}
		}
		const graded = grade(top.level, { watch: profile.intakeWatchC, fix: profile.intakeFixC });
		const steep = rise > profile.intakeRiseC;
		if (!graded && !steep)
			return pass(
				`Intake air up to ${marked(top.level, '°C', 0)} while loaded${segments.pulls.length ? `, at most ${markedBy(Math.max(0, rise), '°C')} more within a pull` : ''}.`
			);
		return found(
			finding(input, {
				severity: graded?.severity ?? 'watch',
				facts: { intakeC: top.level, hot: graded !== null, ...(steep ? { riseC: rise } : {}) },
				value: graded ? top.level : rise,
				limit: graded?.limit ?? profile.intakeRiseC,
				unit: '°C',
				runs: graded
					? stretches(
							frame,
							0.3,
							(i) => (segments.flags[i]! & FLAG.loaded) !== 0 && iat[i]! > graded.limit,
							1
						)
					: [{ from: riseAt!.from, to: riseAt!.to }],
				channels: ['iat', 'ambientTemp', 'map', 'rpm']
			})
		);
	},
	words: ({ facts: { intakeC, hot, riseC = 0 } }: Told<IntakeFacts>) => ({
		title: hot
			? `Intake air ${marked(intakeC, '°C', 0)}`
			: `Intake air rises by ${markedBy(riseC, '°C')} in a pull`,
		summary: `Intake air reached ${marked(intakeC, '°C', 0)} while loaded${riseC ? ` and rose by ${markedBy(riseC, '°C')} within one pull` : ''}: the controller will take power away.`,
		causes: [
			'the cooler is at its end',
			'heat soak before the pull',
			'the sensor sits where it takes heat up'
		],
		next: ['let it cool down, then pull again', 'a better cooler, or less boost']
	})
});

/** The channel that held the highest temperature, the first of equals; none that never got so far is looked at sample by sample. */
function hottest(
	frame: Frame,
	running: readonly Run[],
	channels: readonly string[]
): { id: string; level: number } | null {
	let worst: { id: string; level: number } | null = null;
	for (const id of channels) {
		if (worst && !(frame.bounds(id)!.max > worst.level)) continue;
		const { level, at } = heldHigh(frame, frame.get(id)!, 0.5, running);
		if (at >= 0 && (!worst || level > worst.level)) worst = { id, level };
	}
	return worst;
}

export const tempExhaust = check({
	code: 'temp.exhaust',
	title: 'Exhaust temperature',
	section: 'readiness',
	units: { levelC: '°C', limitC: '°C' },
	run(input) {
		const { frame, profile, segments } = input;
		const channels = frame.ids.filter((id) => id.startsWith('egt.'));
		if (channels.length === 0) return notChecked('no exhaust temperature is logged', 'egt.cyl1');
		const worst = hottest(frame, segments.running, channels);
		if (!worst) return notChecked('the exhaust temperatures hold no values', channels[0]!);
		const { level } = worst;
		const cylinder = Number(worst.id.slice('egt.cyl'.length));
		const graded = grade(level, {
			watch: profile.egtWatchC,
			fix: profile.egtFixC,
			stop: profile.egtStopC
		});
		if (!graded) return pass(`Highest exhaust temperature ${marked(level, '°C', 0)}, cylinder ${cylinder}.`);
		const values = frame.get(worst.id)!;
		return found(
			finding(input, {
				severity: graded.severity,
				facts: { levelC: level, limitC: graded.limit },
				value: level,
				limit: graded.limit,
				unit: '°C',
				cylinder,
				runs: stretches(frame, 0.5, (i) => values[i]! > graded.limit, 1, segments.running),
				channels: [worst.id, 'rpm', 'map']
			})
		);
	},
	words: ({ facts: { levelC, limitC }, cylinder }: Told<Facts>) => ({
		title: `Exhaust ${marked(levelC, '°C', 0)}, cylinder ${cylinder}`,
		summary: `The exhaust of cylinder ${cylinder} reached ${marked(levelC, '°C', 0)}; the limit is ${marked(limitC, '°C')}.`,
		causes: ['timing too late', 'too lean', 'too long at full load'],
		next: ['lift earlier', 'look at mixture and timing of this region']
	})
});
