/** A swap test as a document: `tanto.swap/1`. What was changed between two logs to find out what a difference moves with. */
import { z } from 'zod';
import { parseWith } from '../parse.ts';
import { SWAP_KINDS } from '../swap-kind.ts';
import { MAX_CYLINDERS } from '../channels/canonical.ts';

const cylinder = z.number().int().min(1).max(MAX_CYLINDERS);

export const swapSchema = z
	.looseObject({
		schema: z.literal('tanto.swap/1'),
		kind: z.enum(SWAP_KINDS),
		/**
		 * Of sensors side to side: whether each hangs on the other bank's plug now (channel names stay with the bank), or kept its own harness
		 * (channel names went with the sensor).
		 */
		labels: z.enum(['stay-with-bank', 'follow-sensor']).optional(),
		/** Between which two cylinders something was swapped. */
		cylinders: z.tuple([cylinder, cylinder]).optional(),
		/** What was swapped, moved or mended, in words. */
		what: z.string().max(300).optional(),
		/** Of a sensor that was moved: where it sat in the log before. */
		from: z.enum(['bank1', 'bank2']).optional()
	})
	.superRefine((s, issues) => {
		const missing = (path: string, message: string) =>
			issues.addIssue({ code: 'custom', path: [path], message });
		if (s.kind === 'lambda-side-to-side' && !s.labels)
			missing(
				'labels',
				'say whether the channel names stay with the bank ("stay-with-bank") or went with the sensors ("follow-sensor"): the two are different tests'
			);
		if (s.kind === 'lambda-moved' && !s.from)
			missing('from', 'say where the sensor sat in the log before: "bank1" or "bank2"');
		if (s.kind === 'between-cylinders' && !s.cylinders)
			missing('cylinders', 'name the two cylinders, such as [2, 5]');
		if (s.cylinders && s.cylinders[0] === s.cylinders[1])
			missing('cylinders', 'a swap is between two different cylinders');
	});

export type Swap = z.infer<typeof swapSchema>;

/** @throws InputError naming the path of the first fault */
export function parseSwap(input: unknown): Swap {
	return parseWith(swapSchema, input);
}
