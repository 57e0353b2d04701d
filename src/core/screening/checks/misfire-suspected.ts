/** `misfire.suspected`: lean spikes with a loss of drive, or a mixture that scatters, where no counter is logged. */
import { finding, found, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { fixed, plural } from '../../format.ts';

type Facts = {
	spikes: number;
	scattered: number;
	/** Stretches in which a cylinder seems not to burn at all; of the worst the lost pull and the lean reading, percent. */
	dead: number;
	lostPct?: number;
	leanPct?: number;
	cylinders: number;
};

export const misfireSuspected = check({
	code: 'misfire.suspected',
	title: 'Suspected misfires',
	section: 'mixture',
	advice: 'repair',
	doubts: ['fuel', 'reading', 'injectors'],
	units: {
		spikes: 'times',
		scattered: 'times',
		dead: 'times',
		lostPct: '%',
		leanPct: '%',
		cylinders: 'cylinders'
	},
	run(input) {
		const { frame, segments, believed, suspected, vehicle } = input;
		if (frame.ids.some((id) => id.startsWith('misfire.')))
			return pass('Misfires are counted by the controller.');
		if (!frame.has('rpm')) return notChecked('engine speed is not logged', 'rpm');
		if (believed.banks.every((b) => b === null)) return notChecked('no lambda reading is logged', 'lambda');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const { spikes, scattered, dead } = suspected;
		const worst = [...dead].sort((a, b) => b.lostShare - a.lostShare)[0];
		const runs = [...spikes, ...scattered, ...dead].sort((a, b) => a.from - b.from);
		if (runs.length === 0)
			return pass('No lean spike with a loss of drive, no scattering mixture under load.');
		return found(
			finding(input, {
				severity: 'fix',
				facts: {
					spikes: spikes.length,
					scattered: scattered.length,
					dead: dead.length,
					...(worst ? { lostPct: 100 * worst.lostShare, leanPct: 100 * worst.leanShare } : {}),
					cylinders: vehicle.engine.cylinders
				},
				value: runs.length,
				limit: 0,
				unit: 'times',
				runs,
				channels: ['lambda.b1', 'lambda.b2', 'lambda.target', 'rpm', 'map']
			})
		);
	},
	words: ({ facts: { spikes, scattered, dead, lostPct, leanPct, cylinders } }: Told<Facts>) => ({
		title: dead ? 'Lean, or a dead cylinder' : 'Looks like misfires under load',
		summary: `No misfire counter is logged, but ${[
			...(dead && lostPct !== undefined && leanPct !== undefined
				? [
						`in ${plural(dead, 'stretch', 'stretches')} the mixture steps up by ${fixed(leanPct, 0)} % while ${fixed(lostPct, 0)} % of the pull is gone (one of ${cylinders} cylinders is ${fixed(100 / cylinders, 0)} %)`
					]
				: []),
			...(spikes
				? [`${plural(spikes, 'short lean spike')} came with less acceleration than other pulls show there`]
				: []),
			...(scattered
				? [
						`in ${plural(scattered, 'stretch', 'stretches')} the mixture scatters far more than elsewhere under load`
					]
				: [])
		].join(', and ')}. A misfire reads lean at the sensor: nothing there is judged as mixture.`,
		causes: [
			'plugs: gap too wide for this boost, or worn',
			'coils, leads, or their supply',
			'a mixture far too rich or too lean to burn'
		],
		next: [
			'a misfiring engine is not pulled again',
			'log the misfire counters, plugs out in order',
			'no fuel is added on the word of these spikes'
		]
	})
});
