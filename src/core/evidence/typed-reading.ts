/**
 * Readings that exist only on a film or a sheet: an independent gauge or the dyno's mixture by engine speed, power, a timing light, maxima since
 * they were last cleared. Typed in beside a log, with where they come from and how coarse they are, and counted as far as they can carry.
 */
import { z } from 'zod';
import { fixed, plural, signed } from '../format.ts';
import { InputError } from '../input-error.ts';
import { parseWith } from '../parse.ts';
import { convert } from '../units/units.ts';
import type { Readings } from './readings.ts';
import { median } from '../stats/stats.ts';
import { profileOf, type Profile } from '../limits/profile.ts';
import { judgeMaxima, maximaInWords, type Beyond } from './typed-maxima.ts';
import { TYPED_KINDS, TYPED_UNITS } from './typed-units.ts';
import type { TypedMixture } from './lambda/typed-vote.ts';
import type { PullCurves } from './segments/pull-curves.ts';

export const typedReadingSchema = z.object({
	kind: z.enum(TYPED_KINDS),
	/** Where it was read: "film of the gauge on the pillar". */
	source: z.string().trim().min(3, 'say where it was read').max(200),
	unit: z.string().max(5),
	/** Engine speed, value, half of the value's last digit. Empty for maxima, which are words. */
	points: z.array(z.object({ rpm: z.number(), value: z.number(), half: z.number() })).max(100),
	words: z.string().max(1000)
});
export type TypedReading = z.infer<typeof typedReadingSchema>;

/** What a value of each kind can be, in its unit. */
const SANE: Record<string, [number, number]> = {
	AFR: [6, 25],
	λ: [0.5, 1.7],
	'°': [-30, 60],
	hp: [1, 5000],
	kW: [1, 4000],
	Nm: [1, 8000],
	'lb-ft': [1, 6000]
};

/**
 * @param text lines of engine speed and value: "3000 12.8", with a space, tab, comma, colon or semicolon between; for maxima words
 * @throws InputError naming the line
 */
export function typedFrom(kind: string, source: string, unit: string, text: string): TypedReading {
	const known = TYPED_KINDS.find((k) => k === kind);
	if (!known) throw new InputError('say what was read', 'kind');
	if (!(TYPED_UNITS[known] as readonly string[]).includes(unit))
		throw new InputError(`${known} is written in ${TYPED_UNITS[known].join(' or ')}`, 'unit');
	const lines = text
		.split(/\r?\n/)
		.map((l) => l.trim())
		.filter(Boolean);
	if (lines.length === 0) throw new InputError('type what was read', 'values');
	const points = known === 'maxima' ? [] : lines.map((l, i) => pointOf(l, i + 1, unit));
	points.sort((a, b) => a.rpm - b.rpm);
	return parseWith(typedReadingSchema, {
		kind: known,
		source,
		unit,
		points,
		words: known === 'maxima' ? lines.join('\n') : ''
	});
}

function pointOf(line: string, n: number, unit: string): TypedReading['points'][number] {
	const m = /^(\d{2,5})\s*[\s:;,]\s*(-?\d+(?:[.,]\d+)?)$/.exec(line);
	if (!m)
		throw new InputError(`write engine speed and value, such as 3000 12.8 (found "${line}")`, `line ${n}`);
	const rpm = Number(m[1]);
	const value = Number(m[2]!.replace(',', '.'));
	const [least, most] = SANE[unit]!;
	if (rpm < 200 || rpm > 20_000) throw new InputError(`${rpm} is no engine speed`, `line ${n}`);
	if (value < least || value > most)
		throw new InputError(`${value} ${unit} is none: ${least} to ${most} can be`, `line ${n}`);
	const decimals = /[.,](\d+)$/.exec(m[2]!)?.[1]!.length ?? 0;
	return { rpm, value, half: 0.5 * 10 ** -decimals };
}

export interface TypedRow {
	rpm: number;
	/** As typed, in λ for a mixture. */
	typed: number;
	/** What the log has at that speed, over its pulls; null where it was not driven. */
	logged: number | null;
	/** Typed against logged: percent for a mixture, degrees for timing. */
	off: number | null;
	/** Beyond what its coarseness and a film can carry. */
	differs: boolean;
}

export interface TypedAnswer {
	rows: TypedRow[];
	state: 'agrees' | 'differs' | 'shown';
	/** Of the worst maximum that is beyond its limit. */
	severity?: Beyond;
	words: string;
}

/** Mixtures of a typed reading, λ. @param stoich of the gauge that shows AFR */
export function typedMixtures({ kind, unit, points }: TypedReading, stoich: number): TypedMixture[] {
	if (kind !== 'mixture') return [];
	const scale = unit === 'AFR' ? 1 / stoich : 1;
	return points.map(({ rpm, value, half }) => ({ rpm, lambda: value * scale, half: half * scale }));
}

/** Power and torque of typed readings as a document of them; empty where none were typed. */
export function typedPower(readings: readonly TypedReading[]): Readings[] {
	const list = readings.flatMap(({ kind, unit, points }): Readings['readings'] =>
		kind === 'power'
			? points.map((p) => ({ quantity: 'powerKw', rpm: p.rpm, value: convert(p.value, unit, 'kW') }))
			: kind === 'torque'
				? points.map((p) => ({ quantity: 'torqueNm', rpm: p.rpm, value: convert(p.value, unit, 'Nm') }))
				: []
	);
	return list.length ? [{ schema: 'tanto.readings/1', source: 'dyno', readings: list }] : [];
}

/** Highest injector duty among typed maxima, percent; `null` where none stands there. */
export function typedDuty({ kind, words }: TypedReading, profile: Profile): number | null {
	if (kind !== 'maxima') return null;
	return judgeMaxima(words, profile).find((m) => m.id === 'duty')?.value ?? null;
}

/** What a reading off a film or a dial may be off by itself, beside its last digit. Own choice. */
const FILM_PCT = 3;
const LIGHT_DEG = 1;
/** The log is looked up within this of the typed speed. */
const WITHIN_RPM = 150;

/**
 * @param pulls curves of the log's pulls
 * @param stoich of the gauge that shows AFR
 * @param profile limits of this vehicle, which maxima are held against
 */
export function judgeTyped(
	reading: TypedReading,
	pulls: readonly PullCurves[],
	stoich: number,
	profile: Profile = profileOf()
): TypedAnswer {
	const { kind, points, unit } = reading;
	if (kind === 'maxima') {
		const maxima = judgeMaxima(reading.words, profile);
		const severity = (['stop', 'fix', 'watch'] as const).find((s) => maxima.some((m) => m.severity === s));
		return {
			rows: [],
			state: severity ? 'differs' : 'shown',
			...(severity ? { severity } : {}),
			words: `${maximaInWords(maxima)} Nobody knows when they were reached: they are no witness of this log.`
		};
	}
	const mixture = kind === 'mixture';
	const names = mixture ? ['lambda1', 'lambda2'] : kind === 'timing' ? ['spark'] : [];
	const rows = points.map((p): TypedRow => {
		const typed = mixture && unit === 'AFR' ? p.value / stoich : p.value;
		const half = mixture && unit === 'AFR' ? p.half / stoich : p.half;
		const logged = loggedAt(pulls, names, p.rpm);
		if (logged === null) return { rpm: p.rpm, typed, logged, off: null, differs: false };
		const off = mixture ? 100 * (typed / logged - 1) : typed - logged;
		const carries = mixture ? FILM_PCT + (100 * half) / logged : LIGHT_DEG + half;
		return { rpm: p.rpm, typed, logged, off, differs: Math.abs(off) > carries };
	});
	const compared = rows.filter((r) => r.off !== null);
	if (kind === 'power' || kind === 'torque')
		return { rows, state: 'shown', words: 'Of a dyno, shown beside the log and compared with another log.' };
	if (compared.length === 0)
		return { rows, state: 'shown', words: 'The log has nothing at these speeds to set it against.' };
	const by = mixture ? '%' : '°';
	const apart = compared.filter((r) => r.differs);
	const middle = median(compared.map((r) => r.off!));
	if (apart.length === 0)
		return {
			rows,
			state: 'agrees',
			words: `Agrees with the log at ${plural(compared.length, 'speed')}: ${signed(middle)} ${by} in the middle.`
		};
	const worst = apart.reduce((a, b) => (Math.abs(b.off!) > Math.abs(a.off!) ? b : a));
	return {
		rows,
		state: 'differs',
		words: mixture
			? `Reads ${fixed(Math.abs(worst.off!), 1)} % ${worst.off! > 0 ? 'leaner' : 'richer'} than the log at ${worst.rpm} rpm (${apart.length} of ${plural(compared.length, 'speed')} differ): one of the two is wrong, and no fuel is taken out before it is known which.`
			: `The crank shows ${signed(worst.off!)}° against the log at ${worst.rpm} rpm: the trigger offset or the mark is wrong, and no timing is added before it is known which.`
	};
}

/** Median over the pulls of what stands near a speed; of two banks the mean, as a gauge in the common pipe shows it. */
function loggedAt(pulls: readonly PullCurves[], names: readonly string[], rpm: number): number | null {
	const seen: number[] = [];
	for (const p of pulls)
		p.rpm.forEach((at, i) => {
			if (Math.abs(at - rpm) > WITHIN_RPM) return;
			const values = names.flatMap((n) => p.curves[n]?.[i] ?? []);
			if (values.length) seen.push(values.reduce((a, b) => a + b, 0) / values.length);
		});
	return seen.length ? median(seen) : null;
}
