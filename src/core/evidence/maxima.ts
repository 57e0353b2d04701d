/**
 * What a controller or a gauge keeps as maxima, typed as numbers without a log: `tanto.maxima/1`. Nobody knows at which moment each was reached, so
 * they witness nothing of a mixture; a limit that was passed was passed all the same.
 */
import { z } from 'zod';
import type { Profile } from '../limits/profile.ts';
import { heldAgainst, KEPT, type Beyond, type Maximum, type MaximumId } from './typed-maxima.ts';

/** What a value can be at all, in its canonical unit: beyond it something was mistyped. */
const SANE: Record<string, readonly [number, number]> = { '%': [0, 200], '°': [0, 60], '°C': [-40, 1300] };
const IDS = KEPT.map((k) => k.id) as [MaximumId, ...MaximumId[]];

const values = z
	.partialRecord(z.enum(IDS), z.number())
	.refine((v) => Object.keys(v).length > 0, 'type at least one value')
	.superRefine((v, context) => {
		for (const { id, title, unit } of KEPT) {
			const value = v[id];
			const [least, most] = SANE[unit]!;
			if (value !== undefined && (value < least || value > most))
				context.addIssue({
					code: 'custom',
					path: [id],
					message: `${title}: ${least} to ${most} ${unit} can be`
				});
		}
	});

export const maximaSchema = z.strictObject({
	schema: z.literal('tanto.maxima/1'),
	/** Where they were read: "the controller's own page", "the gauge on the pillar". */
	source: z.string().trim().min(3, 'say where they were read').max(200),
	/** When they were last cleared, as a day; `null` where nobody knows. */
	since: z.iso.date('write the day as 2026-05-31').nullable(),
	/** In canonical units: %, ° and °C. */
	values
});
export type Maxima = z.infer<typeof maximaSchema>;

export interface JudgedMaxima {
	maxima: Omit<Maximum, 'line'>[];
	/** Of the worst; `null` where all are within their limits. */
	severity: Beyond | null;
}

/** Each typed maximum against its limit, in the order in which they are asked for. */
export function judgeMaximaOf({ values }: Maxima, profile: Profile): JudgedMaxima {
	const maxima = KEPT.flatMap((kept) => {
		const value = values[kept.id];
		return value === undefined ? [] : [heldAgainst(kept, value, profile)];
	});
	const severity = (['stop', 'fix', 'watch'] as const).find((s) => maxima.some((m) => m.severity === s));
	return { maxima, severity: severity ?? null };
}
