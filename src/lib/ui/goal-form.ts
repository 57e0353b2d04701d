/** A goal as a form writes it: lists as text, empty where nothing was said. */
import { InputError } from '$core/input-error';
import { parseGoal, type Goal } from '$core/fuelling/goal';

const NUMBERS = ['powerHp', 'ethanolPct', 'dutyMaxPct', 'revLimitRpm', 'timingCeilingDeg', 'pumpLh'] as const;

export type GoalFields = Record<
	(typeof NUMBERS)[number] | 'boostKpa' | 'candidatesCcMin' | 'shiftRpm' | 'plugsEachRung',
	string
>;

export function fieldsOf(goal: Goal): GoalFields {
	const out = Object.fromEntries(NUMBERS.map((n) => [n, goal[n] === undefined ? '' : String(goal[n])]));
	return {
		...(out as Record<(typeof NUMBERS)[number], string>),
		boostKpa: (goal.boostKpa ?? []).map(([r, k]) => `${r}: ${k}`).join(', '),
		candidatesCcMin: (goal.candidatesCcMin ?? []).join(', '),
		shiftRpm: (goal.shiftRpm ?? []).map(([g, r]) => `${g}: ${r}`).join(', '),
		plugsEachRung: goal.plugsEachRung ? 'on' : ''
	};
}

function numberFrom(text: string, where: string): number {
	const n = Number(text.trim().replace(/^(-?\d+),(\d+)$/, '$1.$2'));
	if (text.trim() === '' || !Number.isFinite(n))
		throw new InputError(`a number was expected (found "${text.trim()}")`, where);
	return n;
}

/**
 * @param fields as typed; boost as "3000: 180, 6500: 200", candidates as "850, 1050", shifts as "1: 6500, 2: 6600"
 * @param before what the form doesn't know of it is kept
 * @throws InputError naming the field
 */
export function goalFrom(fields: GoalFields, before: Goal): Goal {
	const parts = (text: string) =>
		text
			.split(/[,;\n]/)
			.map((p) => p.trim())
			.filter(Boolean);
	const pairs = (name: 'boostKpa' | 'shiftRpm', how: string) =>
		parts(fields[name]).map((p): [number, number] => {
			const [a, b, ...more] = p.split(':');
			if (b === undefined || more.length) throw new InputError(`${how} (found "${p}")`, name);
			return [numberFrom(a!, name), numberFrom(b, name)];
		});
	const boost = pairs('boostKpa', 'write boost as engine speed: kPa, such as 3000: 180');
	const shifts = pairs('shiftRpm', 'write shifts as gear: engine speed, such as 1: 6500');
	const candidates = parts(fields.candidatesCcMin).map((p) => numberFrom(p, 'candidatesCcMin'));
	const kept = Object.fromEntries(Object.entries(before).filter(([k]) => !(k in fields)));
	return parseGoal({
		...kept,
		schema: 'tanto.goal/1',
		...(fields.plugsEachRung ? { plugsEachRung: true } : {}),
		...(shifts.length ? { shiftRpm: shifts } : {}),
		...Object.fromEntries(
			NUMBERS.flatMap((n) => (fields[n].trim() ? [[n, numberFrom(fields[n], n)] as const] : []))
		),
		...(boost.length ? { boostKpa: boost } : {}),
		...(candidates.length ? { candidatesCcMin: candidates } : {})
	});
}
