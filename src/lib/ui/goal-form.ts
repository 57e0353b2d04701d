/** A goal as a form writes it: lists as text, empty where nothing was said. */
import { InputError } from '$core/input-error';
import { deadTimeOf } from '$core/evidence/dead-time';
import { fixed } from '$core/format';
import { parseGoal, type Candidate, type Goal } from '$core/fuelling/goal';
import { SUPPLY_V } from '$core/fuelling/injector';

const NUMBERS = ['powerHp', 'ethanolPct', 'dutyMaxPct', 'revLimitRpm', 'timingCeilingDeg', 'pumpLh'] as const;

export type GoalFields = Record<
	| (typeof NUMBERS)[number]
	| 'boostKpa'
	| 'candidatesCcMin'
	| 'shiftRpm'
	| 'plugsEachRung'
	| 'worstDayC'
	| 'worstDayAir'
	| 'worstDayBy',
	string
>;

/** How dense the air of the worst day is, in the three ways that people say it. */
export const DENSITY_BY = [
	['pressureHpa', 'hPa of pressure'],
	['altitudeM', 'm of altitude'],
	['densityAltitudeFt', 'ft of density altitude']
] as const;

/** "1050 at 400 kPa, 1.1 ms": the flow, the pressure it is rated at, the dead time. */
function candidateText({ flowCcMin, ratedPressureKpa, deadTimeMs }: Candidate): string {
	const dead = typeof deadTimeMs === 'object' ? deadTimeOf(deadTimeMs, SUPPLY_V) : deadTimeMs;
	return [
		flowCcMin,
		...(ratedPressureKpa === undefined ? [] : [`at ${ratedPressureKpa} kPa`]),
		...(dead === undefined ? [] : [`${fixed(dead, 2)} ms`])
	].join(' ');
}

const CANDIDATE = /^([\d.]+)(?:\s*at\s*([\d.]+)\s*kPa)?(?:\s+([\d.]+)\s*ms)?$/i;

/** @param before what a form can't write of them stays, where the text is the one that it gave */
function candidatesFrom(text: string[], before: Goal): (number | Candidate)[] {
	const had = new Map((before.candidatesCcMin ?? []).map((c) => [textOf(c), c]));
	return text.map((p) => {
		const known = had.get(p);
		if (known !== undefined) return known;
		const m = CANDIDATE.exec(p);
		if (!m)
			throw new InputError(
				`write injectors as a flow, with their pressure and dead time where they have others: 1050 at 400 kPa 1.1 ms (found "${p}")`,
				'candidatesCcMin'
			);
		const flowCcMin = Number(m[1]);
		if (!m[2] && !m[3]) return flowCcMin;
		return {
			flowCcMin,
			...(m[2] ? { ratedPressureKpa: Number(m[2]) } : {}),
			...(m[3] ? { deadTimeMs: Number(m[3]) } : {})
		};
	});
}
const textOf = (c: number | Candidate) => (typeof c === 'number' ? String(c) : candidateText(c));

export function fieldsOf(goal: Goal): GoalFields {
	const out = Object.fromEntries(NUMBERS.map((n) => [n, goal[n] === undefined ? '' : String(goal[n])]));
	return {
		...(out as Record<(typeof NUMBERS)[number], string>),
		boostKpa: (goal.boostKpa ?? []).map(([r, k]) => `${r}: ${k}`).join(', '),
		candidatesCcMin: (goal.candidatesCcMin ?? []).map(textOf).join(', '),
		...worstDayFields(goal),
		shiftRpm: (goal.shiftRpm ?? []).map(([g, r]) => `${g}: ${r}`).join(', '),
		plugsEachRung: goal.plugsEachRung ? 'on' : ''
	};
}

function worstDayFields({ worstDay }: Goal): Pick<GoalFields, 'worstDayC' | 'worstDayAir' | 'worstDayBy'> {
	const by = DENSITY_BY.find(([k]) => worstDay?.[k] !== undefined)?.[0] ?? 'pressureHpa';
	return {
		worstDayC: worstDay ? String(worstDay.ambientC) : '',
		worstDayAir: worstDay?.[by] === undefined ? '' : String(worstDay[by]),
		worstDayBy: by
	};
}

function worstDayFrom(fields: GoalFields): Goal['worstDay'] {
	const { worstDayC: c, worstDayAir: air, worstDayBy: by } = fields;
	if (!c.trim() && !air.trim()) return undefined;
	if (!c.trim()) throw new InputError('say how cold it is then', 'worstDayC');
	return {
		ambientC: numberFrom(c, 'worstDayC'),
		...(air.trim() ? { [by || 'pressureHpa']: numberFrom(air, 'worstDayAir') } : {})
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
	const candidates = candidatesFrom(parts(fields.candidatesCcMin), before);
	const worstDay = worstDayFrom(fields);
	const kept = Object.fromEntries(Object.entries(before).filter(([k]) => !(k in fields) && k !== 'worstDay'));
	return parseGoal({
		...kept,
		schema: 'tanto.goal/1',
		...(fields.plugsEachRung ? { plugsEachRung: true } : {}),
		...(shifts.length ? { shiftRpm: shifts } : {}),
		...Object.fromEntries(
			NUMBERS.flatMap((n) => (fields[n].trim() ? [[n, numberFrom(fields[n], n)] as const] : []))
		),
		...(boost.length ? { boostKpa: boost } : {}),
		...(worstDay ? { worstDay } : {}),
		...(candidates.length ? { candidatesCcMin: candidates } : {})
	});
}
