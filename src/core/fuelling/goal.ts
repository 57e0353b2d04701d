/** What a job is to reach, in numbers: `tanto.goal/1`. */
import { z } from 'zod';
import type { Profile } from '../limits/profile.ts';
import { parseWith } from '../parse.ts';
import { pressureAtDensityAltitudeKpa, standardPressureKpa } from '../performance/air.ts';

const positive = z.number().positive();

/** Injectors to choose from: their flow alone, or with the pressure that it is rated at and their own dead time (ms, or by supply voltage). */
export const candidateSchema = z.looseObject({
	flowCcMin: positive.max(20000),
	ratedPressureKpa: positive.max(20000).optional(),
	deadTimeMs: z
		.union([
			z.number().min(0).max(20),
			z.array(z.tuple([positive.max(50), z.number().min(0).max(20)])).min(1)
		])
		.optional()
});
export type Candidate = z.infer<typeof candidateSchema>;

/** The coldest, densest day that is reckoned with: its temperature, and one way of saying how dense its air is. */
export const worstDaySchema = z
	.looseObject({
		ambientC: z.number().min(-60).max(60),
		/** At the place. */
		pressureHpa: z.number().min(500).max(1100).optional(),
		/** Of the place, in the standard atmosphere. */
		altitudeM: z.number().min(-500).max(5500).optional(),
		densityAltitudeFt: z.number().min(-15_000).max(20_000).optional()
	})
	.refine(
		(d) => [d.pressureHpa, d.altitudeM, d.densityAltitudeFt].filter((v) => v !== undefined).length <= 1,
		'one of pressureHpa, altitudeM and densityAltitudeFt'
	);

export const goalSchema = z.looseObject({
	schema: z.literal('tanto.goal/1'),
	/** Boost by engine speed: rpm, kPa absolute; speeds rise. */
	boostKpa: z
		.array(z.tuple([positive.max(20000), z.number().min(20).max(1000)]))
		.min(1)
		.max(100)
		.refine((b) => b.every((p, i) => i === 0 || p[0] > b[i - 1]![0]), 'engine speeds have to rise')
		.optional(),
	timingCeilingDeg: z.number().min(-20).max(60).optional(),
	revLimitRpm: positive.max(20000).optional(),
	/** Wanted speed of each full-throttle upshift: gear, rpm. */
	shiftRpm: z
		.array(z.tuple([z.number().int().min(1).max(12), positive.max(20000)]))
		.max(12)
		.optional(),
	powerHp: positive.max(20000).optional(),
	ethanolPct: z.number().min(0).max(100).optional(),
	/** Injector duty that is to be kept on the worst day. */
	dutyMaxPct: z.number().min(10).max(100).optional(),
	/** Flow of the injectors to choose from, cm³/min at their rated pressure. */
	candidatesCcMin: z
		.array(z.union([positive.max(20000), candidateSchema]))
		.max(20)
		// The answer names injectors by their flow.
		.refine((list) => {
			const own = new Map(list.map((c) => [typeof c === 'number' ? c : c.flowCcMin, JSON.stringify(c)]));
			return list.every((c) => own.get(typeof c === 'number' ? c : c.flowCcMin) === JSON.stringify(c));
		}, 'two different injectors of one flow can’t be told apart in the answer: write the flow of one at the other’s pressure')
		.optional(),
	worstDay: worstDaySchema.optional(),
	/** What the pump delivers at the rail's gauge pressure under this boost, litres an hour. */
	pumpLh: positive.max(20000).optional(),
	plugsEachRung: z.boolean().optional()
});
export type Goal = z.infer<typeof goalSchema>;

/** @throws InputError naming the path of the first fault */
export function parseGoal(input: unknown): Goal {
	return parseWith(goalSchema, input);
}

/** The profile with the worst day of the goal, where that says one. */
export function withWorstDay(profile: Profile, { worstDay }: Goal): Profile {
	if (!worstDay) return profile;
	const { ambientC, pressureHpa, altitudeM, densityAltitudeFt } = worstDay;
	const kpa =
		pressureHpa !== undefined
			? pressureHpa / 10
			: altitudeM !== undefined
				? standardPressureKpa(altitudeM)
				: densityAltitudeFt !== undefined
					? pressureAtDensityAltitudeKpa(ambientC, densityAltitudeFt)
					: profile.worstDayKpa;
	return { ...profile, worstDayC: ambientC, worstDayKpa: kpa };
}

export const candidatesOf = (g: Goal): Candidate[] =>
	(g.candidatesCcMin ?? []).map((c) => (typeof c === 'number' ? { flowCcMin: c } : c));

/** Boost that is asked for at an engine speed, kPa absolute; `null` without a goal for it. Held at the ends. */
export function goalBoost(g: Goal, rpm: number): number | null {
	const b = g.boostKpa;
	if (!b?.length) return null;
	if (rpm <= b[0]![0]) return b[0]![1];
	for (let i = 1; i < b.length; i++) {
		const [r1, k1] = b[i]!;
		const [r0, k0] = b[i - 1]!;
		if (rpm <= r1) return k0 + ((rpm - r0) / (r1 - r0)) * (k1 - k0);
	}
	return b.at(-1)![1];
}
