/** What a person may say of the layout of a file that wasn't recognised. */
import { z } from 'zod';

export type Separator = ',' | ';' | '\t';

/** What a person said of the layout of a file; whatever is missing is recognised. `headerLine` counts from 1. */
export const layoutHintSchema = z.object({
	separator: z.enum([',', ';', '\t']).optional(),
	headerLine: z.number().int().min(1).max(60, 'the header has to be among the first 60 lines').optional(),
	/** Name of the column that is the time. */
	time: z.string().min(1).max(300).optional()
});
export type LayoutHint = z.infer<typeof layoutHintSchema>;
