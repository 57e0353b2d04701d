/** `sensor.ethanol`: the logged blend against the declared one, and whether it changes within the log. */
import { FLAG } from '../../evidence/segments/kinds.ts';
import { runningMedian, extremes } from '../../stats/stats.ts';
import { finding, found, medianWhere, notChecked, pass } from '../measure.ts';
import { measuredEthanol } from '../../evidence/ethanol.ts';
import { check, type Told } from '../check.ts';
import { fixed, signed } from '../../format.ts';

const SMOOTH_S = 5;

/** `wrong`: off the declared blend; `change`: it moves within the log. */
type Facts = {
	loggedPct: number;
	declaredPct?: number;
	wrong: boolean;
	changePoints: number;
	changes: boolean;
};

export const sensorEthanol = check({
	code: 'sensor.ethanol',
	title: 'Ethanol',
	section: 'sensors',
	advice: 'fuel',
	needs: ['ethanol'],
	units: { loggedPct: '%', declaredPct: '%', changePoints: '%' },
	run(input) {
		const { frame, vehicle, profile, request, segments } = input;
		const ethanol = frame.get('ethanol');
		if (!ethanol) return notChecked('the ethanol content is not logged', 'ethanol');
		if (!measuredEthanol(input))
			return notChecked(
				'the controller infers the ethanol content from its trims, which is no witness of the blend',
				'an ethanol sensor'
			);
		const declared = request?.conditions?.ethanolPct ?? vehicle.fuel?.ethanolPct;
		const logged = medianWhere(ethanol, (i) => !(segments.flags[i]! & FLAG.standing));
		if (!Number.isFinite(logged)) return notChecked('the ethanol channel holds no values', 'ethanol');
		const width = Math.min(401, 2 * Math.floor(SMOOTH_S / frame.stepS / 2) + 1);
		const { min, max } = extremes(runningMedian(ethanol, width, segments.running));
		const change = max - min;
		const off = declared === undefined ? 0 : logged - declared;
		const size = Math.abs(off);
		if (size <= profile.ethanolWatch && change <= profile.ethanolChange)
			return declared === undefined
				? notChecked('the declared ethanol content is not stated', 'vehicle: fuel.ethanolPct')
				: pass(`Ethanol ${fixed(logged, 0)} %, declared ${declared} %.`);
		const wrong = size > profile.ethanolWatch;
		return found(
			finding(input, {
				severity: size > profile.ethanolFix ? 'fix' : 'watch',
				facts: {
					loggedPct: logged,
					...(declared === undefined ? {} : { declaredPct: declared }),
					wrong,
					changePoints: change,
					changes: change > profile.ethanolChange
				},
				value: wrong ? off : change,
				limit:
					size > profile.ethanolFix
						? profile.ethanolFix
						: wrong
							? profile.ethanolWatch
							: profile.ethanolChange,
				unit: '%',
				channels: ['ethanol']
			})
		);
	},
	words: ({ facts: { loggedPct, declaredPct, wrong, changePoints, changes } }: Told<Facts>) => ({
		title: wrong
			? `Ethanol ${fixed(loggedPct, 0)} % instead of ${declaredPct} %`
			: `Ethanol changes by ${fixed(changePoints, 0)} points`,
		summary: `The log shows ${fixed(loggedPct, 0)} % ethanol${declaredPct === undefined ? '' : `, ${signed(loggedPct - declaredPct, 0)} points from the declared ${declaredPct} %`}${changes ? `; it changes by ${fixed(changePoints, 0)} points within the log` : ''}.`,
		causes: [
			'a pump that sells less than it says',
			'old fuel in tank and lines',
			'water in the fuel, or a failing sensor'
		],
		next: ['ask what is in the tank', 'run it down and fill it up before the blend is judged']
	})
});
