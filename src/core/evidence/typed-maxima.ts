/**
 * Maxima that a controller or a gauge keeps "since last cleared", typed as lines such as "duty 94 %" or "coolant 231 °F": held against their limits.
 * Nobody knows when they were reached, so they are no witness of a log; a limit that was passed was passed all the same.
 */
import { fixed, marked } from '../format.ts';
import type { Profile } from '../limits/profile.ts';
import { convert, parseUnit } from '../units/units.ts';

export type Beyond = 'stop' | 'fix' | 'watch';

export type MaximumId =
	| 'duty'
	| 'knock'
	| 'coolant'
	| 'intake'
	| 'oil'
	| 'gearbox'
	| 'exhaust'
	| 'controller';

export interface Kept {
	id: MaximumId;
	title: string;
	/** Words that name it, the most telling first. */
	names: RegExp;
	/** Canonical; a figure without a unit is taken for it. The worst limit comes first. */
	unit: string;
	limits: readonly [Beyond, keyof Profile][];
}

/** Maxima that a controller or a gauge keeps, and what each is held against. */
export const KEPT: readonly Kept[] = [
	{
		id: 'duty',
		title: 'Injector duty',
		names: /\bduty\b|\bidc\b/i,
		unit: '%',
		limits: [
			['stop', 'dutyStopPct'],
			['fix', 'dutyFixPct'],
			['watch', 'dutyWatchPct']
		]
	},
	{
		id: 'knock',
		title: 'Knock retard',
		names: /\bknock\b|\bretard\b/i,
		unit: '°',
		limits: [
			['stop', 'knockStopDeg'],
			['fix', 'knockFixDeg'],
			['watch', 'knockWatchDeg']
		]
	},
	{
		id: 'coolant',
		title: 'Coolant temperature',
		names: /\bcoolant\b|\bwater\b|\bect\b/i,
		unit: '°C',
		limits: [
			['stop', 'coolantStopC'],
			['fix', 'coolantFixC']
		]
	},
	{
		id: 'intake',
		title: 'Intake air temperature',
		names: /\bintake\b|\biat\b|\bcharge (air|temp)/i,
		unit: '°C',
		limits: [
			['fix', 'intakeFixC'],
			['watch', 'intakeWatchC']
		]
	},
	{ id: 'oil', title: 'Oil temperature', names: /\boil\b/i, unit: '°C', limits: [['fix', 'oilFixC']] },
	{
		id: 'gearbox',
		title: 'Gearbox temperature',
		names: /\b(trans|gearbox|transmission)\b/i,
		unit: '°C',
		limits: [['fix', 'transFixC']]
	},
	{
		id: 'exhaust',
		title: 'Exhaust temperature',
		names: /\begt\b|\bexhaust\b/i,
		unit: '°C',
		limits: [
			['stop', 'egtStopC'],
			['fix', 'egtFixC'],
			['watch', 'egtWatchC']
		]
	},
	{
		id: 'controller',
		title: 'Controller temperature',
		names: /\b(ecu|controller)\b/i,
		unit: '°C',
		limits: [['watch', 'ecuWatchC']]
	}
];

export interface Maximum {
	id: MaximumId;
	line: string;
	title: string;
	/** In the canonical unit. */
	value: number;
	unit: string;
	/** The limit that it passed, or the first that it stays under. */
	limit: number;
	severity: Beyond | null;
}

/** Values in °F that nobody would mean in °C: above what any of these fluids survives. */
const SURELY_FAHRENHEIT = 170;

/** @returns one per line that names something with a limit; other lines are words */
export function judgeMaxima(words: string, profile: Profile): Maximum[] {
	return words.split('\n').flatMap((line): Maximum[] => {
		const kept = KEPT.find((k) => k.names.test(line));
		const m = /(-?\d+(?:[.,]\d+)?)\s*(°?\s?[A-Za-z%°/]+)?\s*$/.exec(line.trim());
		if (!kept || !m || /press/i.test(line)) return [];
		const raw = Number(m[1]!.replace(',', '.'));
		const unit = m[2] ? parseUnit(m[2].replace(/\s/g, '')) : null;
		const from =
			unit?.id ?? (kept.unit === '°C' && kept.id !== 'exhaust' && raw > SURELY_FAHRENHEIT ? '°F' : kept.unit);
		if (unit && unit.quantity !== parseUnit(kept.unit)?.quantity) return [];
		return [{ ...heldAgainst(kept, convert(raw, from, kept.unit), profile), line }];
	});
}

/** One maximum against the limits of the vehicle. @param value in the canonical unit of its kind */
export function heldAgainst(kept: Kept, value: number, profile: Profile): Omit<Maximum, 'line'> {
	const passed = kept.limits.find(([, id]) => value > profile[id]);
	const [severity, limit] = passed ?? [null, kept.limits.at(-1)![1]];
	return { id: kept.id, title: kept.title, value, unit: kept.unit, limit: profile[limit], severity };
}

/** All of them in one sentence, its quantities marked. */
export function maximaInWords(maxima: readonly Omit<Maximum, 'line'>[]): string {
	const beyond = maxima.filter((m) => m.severity);
	const said = (value: number, unit: string) =>
		unit === '°C'
			? marked(value, unit, 0)
			: `${fixed(value, unit === '°' ? 1 : 0)}${unit === '°' ? '' : ' '}${unit}`;
	const figure = (m: Omit<Maximum, 'line'>) => said(m.value, m.unit);
	if (beyond.length)
		return `Beyond its limit: ${beyond.map((m) => `${m.title.toLowerCase()} ${figure(m)} (${m.severity}, limit ${said(m.limit, m.unit)})`).join('; ')}.`;
	return maxima.length
		? `Within their limits: ${maxima.map((m) => `${m.title.toLowerCase()} ${figure(m)}`).join(', ')}.`
		: 'Nothing in it has a limit to be held against.';
}
