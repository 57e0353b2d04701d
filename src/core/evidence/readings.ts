/** Readings that were typed off a film, a dyno sheet or a controller's memory, as a document: `tanto.readings/1`. */
import { z } from 'zod';
import { parseWith } from '../parse.ts';
import type { TypedMixture } from './lambda/typed-vote.ts';

export const READING_QUANTITIES = [
	'lambda',
	'powerKw',
	'torqueNm',
	'sparkDeg',
	'dutyPct',
	'retardDeg',
	'boostKpa'
] as const;
export type ReadingQuantity = (typeof READING_QUANTITIES)[number];

/** What a value of each can be. */
const SANE: Record<ReadingQuantity, [number, number]> = {
	lambda: [0.5, 1.7],
	powerKw: [0, 4000],
	torqueNm: [-500, 8000],
	sparkDeg: [-30, 60],
	dutyPct: [0, 150],
	retardDeg: [0, 40],
	boostKpa: [0, 700]
};

export const readingsSchema = z.object({
	schema: z.literal('tanto.readings/1'),
	source: z.enum(['gauge', 'dyno', 'light', 'controller-maxima']),
	instrument: z.string().max(200).optional(),
	readings: z
		.array(
			z
				.object({
					quantity: z.enum(READING_QUANTITIES),
					/** Engine speed; missing for what was only kept as a maximum. */
					rpm: z.number().min(200).max(20_000).optional(),
					value: z.number()
				})
				.superRefine(({ quantity, value }, check) => {
					const [least, most] = SANE[quantity];
					if (value < least || value > most)
						check.addIssue({
							code: 'custom',
							message: `${quantity} of ${value}: ${least} to ${most} can be`
						});
				})
		)
		.min(1)
		.max(500)
});
export type Readings = z.infer<typeof readingsSchema>;

/** @throws InputError naming what is wrong */
export const parseReadings = (input: unknown): Readings => parseWith(readingsSchema, input);

/** Mixtures of a document with half of their last digit. Maxima of a controller are no witness: nobody knows when they were reached. */
export const mixturesOf = ({ source, readings }: Readings): TypedMixture[] =>
	source === 'controller-maxima'
		? []
		: readings.flatMap(({ quantity, rpm, value }) =>
				quantity === 'lambda' && rpm !== undefined
					? [{ rpm, lambda: value, half: 0.5 * 10 ** -(String(value).split('.')[1]?.length ?? 0) }]
					: []
			);

/** Highest injector duty that was kept, percent; `null` where none was typed. */
export function keptDutyOf(documents: readonly Readings[]): number | null {
	const all = documents.flatMap((d) =>
		d.readings.flatMap((r) => (r.quantity === 'dutyPct' ? [r.value] : []))
	);
	return all.length ? Math.max(...all) : null;
}
