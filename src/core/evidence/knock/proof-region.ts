/** Where knock is proved false: a window of engine speed and manifold pressure. */
import { z } from 'zod';

export const regionSchema = z.object({
	rpm: z.tuple([z.number(), z.number()]),
	mapKpa: z.tuple([z.number(), z.number()])
});
export type ProofRegion = z.infer<typeof regionSchema>;
