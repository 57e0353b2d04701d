/**
 * `sensor.alone`: under boost nobody saw the mixture but the controller's own sensor or a narrowband. Such a sensor reads rich under exhaust
 * back-pressure where it isn't compensated (common practice): what it says there adds fuel and takes none out.
 */
import { compensated, kindOf } from '../../evidence/lambda/witnesses.ts';
import { raisesBoost } from '../raises-boost.ts';
import { finding, found, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

const BOOSTED_ABOVE_KPA = 30;
const CHANNELS = ['lambda.b1', 'lambda.b2', 'lambda.ref', 'lambda.ref2', 'lambda.dyno'];

/** What is known of the sensors: not compensated, a narrowband, or nobody said; `raised`: this revision asks for more boost than the first. */
type Facts = { known: 'not-compensated' | 'narrowband' | 'not-said'; raised: boolean };

export const sensorAlone = check({
	code: 'sensor.alone',
	title: 'Witnesses under boost',
	section: 'sensors',
	needs: ['lambdaSensors'],
	units: {},
	run(input) {
		const { frame, segments, vehicle } = input;
		const map = frame.get('map');
		if (!map) return notChecked('manifold pressure is not logged', 'map');
		if (!map.some((v) => v > segments.baroKpa + BOOSTED_ABOVE_KPA))
			return pass('The engine was never boosted in this log.');
		const sources = CHANNELS.filter((id) => frame.has(id));
		if (sources.length === 0) return notChecked('no lambda reading is logged', 'lambda.b1');
		const kinds = sources.map((id) => kindOf(id, vehicle));
		if (kinds.includes('independent')) return pass('An independent instrument saw the mixture as well.');
		const wide = sources.filter((_, i) => kinds[i] !== 'narrowband');
		const said = wide.length ? compensated(wide.map((channel) => ({ channel, vehicle }))) : false;
		if (said === true) return pass('The sensors are compensated for exhaust pressure.');
		const known = wide.length === 0 ? 'narrowband' : said === false ? 'not-compensated' : 'not-said';
		const raised = raisesBoost(input);
		return found(
			finding(input, {
				severity: known === 'not-said' ? 'note' : raised ? 'fix' : 'watch',
				facts: { known, raised },
				channels: sources
			})
		);
	},
	words: ({ facts: { known, raised } }: Told<Facts>) => {
		const more = raised ? ' This revision raises boost.' : '';
		if (known === 'not-said')
			return {
				title: 'Is the lambda sensor compensated for exhaust pressure?',
				summary: `Under boost only the controller’s own sensor saw the mixture, and the vehicle doesn’t say whether it is compensated: one that isn’t reads rich there.${more}`,
				causes: ['no independent instrument was recorded'],
				next: [
					'say in the vehicle whether the sensor is compensated',
					'log once with an independent instrument beside it'
				]
			};
		const what =
			known === 'narrowband'
				? 'a narrowband sensor, which says nothing away from stoichiometric'
				: 'a sensor without pressure compensation, which reads rich there';
		return {
			title: 'Nobody independent saw the mixture under boost',
			summary: `Under boost the only witness is ${what}: what it says adds fuel, and takes none out.${more}`,
			causes: ['no independent instrument is fitted', 'it was not recorded'],
			next: ['log once with an independent instrument beside it', 'no more boost before that']
		};
	}
});
