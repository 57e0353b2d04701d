/** A goal as a form writes it: lists as text, empty where nothing was said. */
import { InputError } from '$core/input-error';
import { parseGoal, type Goal } from '$core/fuelling/goal';

const NUMBERS = ['powerHp', 'ethanolPct', 'dutyMaxPct', 'revLimitRpm', 'timingCeilingDeg', 'pumpLh'] as const;

export type GoalFields = Record<(typeof NUMBERS)[number] | 'boostKpa' | 'candidatesCcMin', string>;

export function fieldsOf(goal: Goal): GoalFields {
	const out = Object.fromEntries(NUMBERS.map((n) => [n, goal[n] === undefined ? '' : String(goal[n])]));
	return {
		...(out as Record<(typeof NUMBERS)[number], string>),
		boostKpa: (goal.boostKpa ?? []).map(([r, k]) => `${r}: ${k}`).join(', '),
		candidatesCcMin: (goal.candidatesCcMin ?? []).join(', ')
	};
}

function numberFrom(text: string, where: string): number {
	const n = Number(text.trim().replace(/^(-?\d+),(\d+)$/, '$1.$2'));
	if (text.trim() === '' || !Number.isFinite(n))
		throw new InputError(`a number was expected (found "${text.trim()}")`, where);
	return n;
}

/**
 * @param fields as typed; boost as "3000: 180, 6500: 200", candidates as "850, 1050"
 * @throws InputError naming the field
 */
export function goalFrom(fields: GoalFields, before: Goal): Goal {
	const { plugsEachRung, shiftRpm } = before;
	const parts = (text: string) =>
		text
			.split(/[,;\n]/)
			.map((p) => p.trim())
			.filter(Boolean);
	const boost = parts(fields.boostKpa).map((p): [number, number] => {
		const [rpm, kpa, ...more] = p.split(':');
		if (kpa === undefined || more.length)
			throw new InputError(`write boost as engine speed: kPa, such as 3000: 180 (found "${p}")`, 'boostKpa');
		return [numberFrom(rpm!, 'boostKpa'), numberFrom(kpa, 'boostKpa')];
	});
	const candidates = parts(fields.candidatesCcMin).map((p) => numberFrom(p, 'candidatesCcMin'));
	return parseGoal({
		schema: 'tanto.goal/1',
		...(plugsEachRung === undefined ? {} : { plugsEachRung }),
		...(shiftRpm === undefined ? {} : { shiftRpm }),
		...Object.fromEntries(
			NUMBERS.flatMap((n) => (fields[n].trim() ? [[n, numberFrom(fields[n], n)] as const] : []))
		),
		...(boost.length ? { boostKpa: boost } : {}),
		...(candidates.length ? { candidatesCcMin: candidates } : {})
	});
}
