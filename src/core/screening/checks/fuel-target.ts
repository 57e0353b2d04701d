/** `fuel.target`: is the target itself lean under boost? Direct injection gets away with more, and factories use that. */
import { marked } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { ONSET_S } from '../../evidence/lambda/deviation.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

const HOLD_S = 0.2;

type Facts = { target: number; limit: number; direct: boolean };

export const fuelTarget = check({
	code: 'fuel.target',
	title: 'Lambda target',
	section: 'mixture',
	needs: ['injection'],
	units: { target: 'λ', limit: 'λ' },
	run(input) {
		const { frame, segments, target, profile, vehicle } = input;
		if (vehicle.engine.aspiration === 'na') return pass('The engine has no boost.');
		if (!target.values) return notChecked('the lambda target is not known', 'lambda.target');
		if (!frame.has('map')) return notChecked('manifold pressure is not logged', 'map');
		const values = target.values;
		const onsets = new Float64Array(frame.length);
		let since = -Infinity;
		for (let i = 0; i < onsets.length; i++) {
			const inside = (segments.flags[i]! & FLAG.boosted) !== 0;
			if (inside && !(i > 0 && segments.flags[i - 1]! & FLAG.boosted)) since = frame.timeS[i]!;
			onsets[i] = inside ? frame.timeS[i]! - since : -1;
		}
		const settled = (i: number) => onsets[i]! >= ONSET_S;
		const top = heldHigh(frame, values, HOLD_S, segments.loaded, settled);
		if (top.at < 0) return notChecked('the engine made no boost in this log', 'boost');
		const limit = profile.targetLeanBoosted;
		if (top.level <= limit) return pass(`Leanest target under boost ${marked(top.level, 'λ', 3)}.`);
		const direct = vehicle.engine.injection === 'direct';
		return found(
			finding(input, {
				severity: direct ? 'watch' : 'fix',
				facts: { target: top.level, limit, direct },
				value: top.level,
				limit,
				unit: 'λ',
				runs: stretches(
					frame,
					HOLD_S,
					(i) => settled(i) && (segments.flags[i]! & FLAG.loaded) !== 0 && values[i]! > limit,
					0.2
				),
				channels: ['lambda.target', 'map', 'rpm']
			})
		);
	},
	words: ({ facts: { target, limit, direct } }: Told<Facts>) => ({
		title: `Lean target under boost: ${marked(target, 'λ', 2)}`,
		summary: `The target itself is ${marked(target, 'λ', 3)} under boost; over ${marked(limit, 'λ', 2)} is lean${direct ? ', though factories do that with direct injection' : ' for port injection'}.`,
		causes: ['a target table that was never made for boost', 'a load axis that ends below the boost'],
		next: ['enrich the target where the engine makes boost, before timing or boost are touched']
	})
});
