/** `temp.fuel`: the hottest fuel that was held. It is thinner, and near its boiling point it makes vapour: the mixture leans out where nothing was changed. */
import { marked } from '../../format.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

const HOLD_S = 1;

type Facts = { fuelC: number; limitC: number };

export const tempFuel = check({
	code: 'temp.fuel',
	title: 'Fuel temperature',
	section: 'readiness',
	units: { fuelC: '°C', limitC: '°C' },
	run(input) {
		const { frame, profile, segments } = input;
		const fuel = frame.get('fuelTemp');
		if (!fuel) return notChecked('fuel temperature is not logged', 'fuelTemp');
		const top = heldHigh(frame, fuel, HOLD_S, segments.running);
		if (top.at < 0) return notChecked('fuel temperature holds no values', 'fuelTemp');
		const limitC = profile.fuelWatchC;
		if (!(top.level > limitC)) return pass(`Hottest fuel ${marked(top.level, '°C', 0)}.`);
		return found(
			finding(input, {
				severity: 'watch',
				facts: { fuelC: top.level, limitC },
				value: top.level,
				limit: limitC,
				unit: '°C',
				runs: stretches(frame, HOLD_S, (i) => fuel[i]! > limitC, 2, segments.running),
				channels: ['fuelTemp', 'fuelPressure', 'rpm']
			})
		);
	},
	words: ({ facts: { fuelC, limitC } }: Told<Facts>) => ({
		title: `Fuel ${marked(fuelC, '°C', 0)}`,
		summary: `The fuel reached ${marked(fuelC, '°C', 0)}; from ${marked(limitC, '°C')} on it may make vapour, and leans the mixture out.`,
		causes: ['a return line that carries heat back to the tank', 'a tank that is nearly empty', 'heat soak'],
		next: ['fill up and let it cool before mixture is judged', 'log fuel pressure beside it']
	})
});
