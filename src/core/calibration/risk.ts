/** Which direction of a change is safer for the engine: one rule per item. */
import { isOn } from './document.ts';

export type ChangeClass = 'safer' | 'riskier' | 'neutral' | 'unknown';

interface Rule {
	match: RegExp;
	/** Direction that is riskier; `changed` for settings where any change is. */
	riskier: 'up' | 'down';
	up: string;
	down: string;
}

const RULES: readonly Rule[] = [
	{ match: /^(fuel\.table|maf\.curve)(@.*)?$/, riskier: 'down', up: 'more fuel', down: 'fuel taken out' },
	{
		match: /^fuel\.(trim|referencePulse|cylTrim|nitrous)$/,
		riskier: 'down',
		up: 'more fuel',
		down: 'fuel taken out'
	},
	{ match: /^lambda\.target(@.*)?$/, riskier: 'up', up: 'leaner target', down: 'richer target' },
	{ match: /^spark\.(table|cylTrim)(@.*)?$/, riskier: 'up', up: 'timing added', down: 'timing taken out' },
	{ match: /^boost\.target(@.*)?$/, riskier: 'up', up: 'more boost', down: 'less boost' },
	{ match: /^limit\.rpm$/, riskier: 'up', up: 'rev limit raised', down: 'rev limit lowered' },
	{
		match: /^limit\.boost$/,
		riskier: 'up',
		up: 'boost protection loosened',
		down: 'boost protection tightened'
	},
	{
		match: /^limit\.lean$/,
		riskier: 'up',
		up: 'lean protection loosened',
		down: 'lean protection tightened'
	},
	{
		match: /^knock\.sensitivity$/,
		riskier: 'down',
		up: 'knock control more sensitive',
		down: 'knock sensitivity down'
	},
	{ match: /^throttle\.demand$/, riskier: 'up', up: 'more throttle', down: 'less throttle' }
];

const NEUTRAL: readonly { match: RegExp; rule: string }[] = [
	{ match: /^spark\.baseVerified$/, rule: 'a record, not a calibration value' },
	{ match: /^shift\.rpm$/, rule: 'shift speeds' }
];

/**
 * Class of the change of item `id`.
 * @param deltas new − old of every cell; empty when the values are no numbers
 */
export function classify(
	id: string,
	deltas: readonly number[],
	from?: string | number | boolean,
	to?: string | number | boolean
): { class: ChangeClass; rule: string } {
	if (id === 'knock.enabled') {
		const on = (v: string | number | boolean | undefined) => v !== undefined && isOn(v);
		if (from !== undefined && to !== undefined && on(from) === on(to))
			return { class: 'neutral', rule: 'the same, written differently' };
		return on(to)
			? { class: 'safer', rule: 'knock control switched on' }
			: { class: 'riskier', rule: on(from) ? 'knock control switched off' : 'knock control off' };
	}
	const neutral = NEUTRAL.find((n) => n.match.test(id));
	if (neutral) return { class: 'neutral', rule: neutral.rule };
	const rule = RULES.find((r) => r.match.test(id));
	if (!rule || deltas.length === 0)
		return { class: 'unknown', rule: 'no rule tells which direction is safer' };
	const up = deltas.some((d) => d > 0);
	const down = deltas.some((d) => d < 0);
	if (!up && !down) return { class: 'neutral', rule: 'nothing changed in value' };
	const risky = rule.riskier === 'up' ? up : down;
	const says = [up ? rule.up : '', down ? rule.down : ''].filter(Boolean).join(' in places, ');
	return { class: risky ? 'riskier' : 'safer', rule: up && down ? `${says} in others` : says };
}
