/** `idle.vacuum`: manifold pressure at warm idle against the vehicle's own; altitude doesn't enter, as both are absolute. */
import { fixed, marked, markedBy } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, medianWhere, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

type Facts = { idleKpa: number; ownKpa: number; moreKpa: number };

export const idleVacuum = check({
	code: 'idle.vacuum',
	title: 'Idle vacuum',
	section: 'readiness',
	advice: 'repair',
	needs: ['idleMap'],
	readiness: {
		item: 'Idle vacuum',
		against: (v) =>
			v.baselines?.idleMapKpa === undefined
				? 'no baseline stated'
				: `${marked(v.baselines.idleMapKpa, 'kPa abs')}, the vehicle's own`
	},
	units: { idleKpa: 'kPa', ownKpa: 'kPa', moreKpa: 'kPa' },
	run(input) {
		const { frame, segments, profile, vehicle } = input;
		const map = frame.get('map');
		const own = vehicle.baselines?.idleMapKpa;
		if (!map) return notChecked('manifold pressure is not logged', 'map');
		if (own === undefined)
			return notChecked(
				"the vehicle's own manifold pressure at idle is not stated",
				'vehicle: baselines.idleMapKpa'
			);
		const use = (i: number) => (segments.flags[i]! & (FLAG.idle | FLAG.warmup | FLAG.start)) === FLAG.idle;
		const idle = medianWhere(map, use, Math.ceil(5 / frame.stepS));
		if (!Number.isFinite(idle)) return notChecked('there is no warm idle of five seconds', 'a warm idle');
		const more = idle - own;
		const fix = more >= profile.idleMapFixKpa;
		if (!fix && more < profile.idleMapWatchKpa)
			return pass(
				`Idle at ${marked(idle, 'kPa abs', 0)}; this vehicle's own is ${marked(own, 'kPa abs', 0)}.`
			);
		return found(
			finding(input, {
				severity: fix ? 'fix' : 'watch',
				facts: { idleKpa: idle, ownKpa: own, moreKpa: more },
				value: more,
				limit: fix ? profile.idleMapFixKpa : profile.idleMapWatchKpa,
				unit: 'kPa',
				runs: stretches(frame, 5, use, 0.5),
				channels: ['map', 'rpm', 'tps']
			})
		);
	},
	words: ({ facts: { idleKpa, ownKpa, moreKpa } }: Told<Facts>) => ({
		title: `Idle vacuum lost: ${markedBy(moreKpa, 'kPa')}`,
		summary: `At warm idle the manifold stands at ${marked(idleKpa, 'kPa abs', 0)}, ${markedBy(moreKpa, 'kPa')} (${fixed(moreKpa / 3.386389, 1)} inHg) above this vehicle's own ${marked(ownKpa, 'kPa abs', 0)}.`,
		causes: [
			'an air leak behind the throttle',
			'late or retarded timing at idle',
			'a valve or cam timing fault',
			'something that loads the engine'
		],
		next: ['look for the leak: hoses, gaskets, brake servo', 'log the idle again']
	})
});
