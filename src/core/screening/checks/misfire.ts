/** `misfire`: counts that rise while loaded, by cylinder. Samples around them never count as lean. */
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { list, plural } from '../../format.ts';

/** Counts under load: by cylinder, the most first; in all; in the worst pull. `one`: a matter of the first cylinder alone. */
type Facts = { cylinders: number[]; counts: number[]; total: number; mostInPull: number; one: boolean };

/** Cylinders that are named. */
const NAMED = 6;

export const misfire = check({
	code: 'misfire',
	swaps: ['between-cylinders', 'repair'],
	title: 'Misfires',
	section: 'mixture',
	advice: 'repair',
	doubts: ['fuel', 'reading', 'injectors'],
	readiness: { item: 'Misfires', against: () => 'none under load' },
	units: { cylinders: 'cylinder', counts: 'misfires', total: 'misfires', mostInPull: 'misfires' },
	run(input) {
		const { frame, segments, profile } = input;
		const channels = frame.ids.filter((id) => id.startsWith('misfire.'));
		if (channels.length === 0) return notChecked('misfires are not logged', 'misfire.cyl1');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		let elsewhere = 0;
		const inPull = segments.pulls.map(() => 0);
		const cylinders: { cylinder: number; count: number }[] = [];
		const rising = new Uint8Array(frame.length);
		for (const id of channels) {
			const counts = frame.get(id)!;
			let count = 0;
			for (let i = 1; i < counts.length; i++) {
				const more = counts[i]! - counts[i - 1]!;
				if (!(more > 0)) continue;
				// The limiter cuts cylinders on purpose, and the load ends in the instant that a hard misfire shows.
				if (!((segments.flags[i]! | segments.flags[i - 1]!) & FLAG.loaded)) {
					elsewhere += more;
					continue;
				}
				count += more;
				rising[i] = 1;
				const p = segments.pulls.findIndex((s) => s.from <= i && i <= s.to + 1);
				if (p >= 0) inPull[p]! += more;
			}
			if (count > 0) cylinders.push({ cylinder: Number(id.slice('misfire.cyl'.length)), count });
		}
		if (cylinders.length === 0)
			return pass(elsewhere ? `No misfire under load; ${elsewhere} elsewhere.` : 'No misfire is counted.');
		cylinders.sort((a, b) => b.count - a.count);
		const total = cylinders.reduce((s, c) => s + c.count, 0);
		const most = Math.max(0, ...inPull);
		const stop = most > profile.misfireStop;
		const one = cylinders.length === 1 || cylinders[0]!.count > total * 0.7;
		return found(
			finding(input, {
				severity: stop ? 'stop' : 'fix',
				facts: {
					cylinders: cylinders.map((c) => c.cylinder),
					counts: cylinders.map((c) => c.count),
					total,
					mostInPull: most,
					one
				},
				value: stop ? most : total,
				limit: stop ? profile.misfireStop : 0,
				unit: 'misfires',
				...(one ? { cylinder: cylinders[0]!.cylinder } : {}),
				runs: stretches(frame, 0, (i) => rising[i] === 1, 1),
				channels: [...cylinders.map((c) => `misfire.cyl${c.cylinder}`), 'rpm', 'map']
			})
		);
	},
	words: ({ facts: { cylinders, counts, total, mostInPull, one } }: Told<Facts>) => ({
		title: one ? `Cylinder ${cylinders[0]} misfires under load` : 'Misfires under load',
		summary: `${plural(total, 'misfire')} under load (${list(cylinders.slice(0, NAMED).map((c, i) => `cylinder ${c}: ${counts[i]}`))}), at most ${mostInPull} in one pull. A misfire reads lean at the sensor: nothing there is judged as mixture.`,
		causes: one
			? ['plug, coil or lead of this cylinder', 'its injector', 'compression of this cylinder']
			: ['plug gap too wide for this boost', 'too rich or too lean', 'dwell, or the supply of the coils'],
		next: [
			'a misfiring engine is not pulled again',
			'plugs out, in order; swap coil and injector with a neighbour'
		]
	})
});
