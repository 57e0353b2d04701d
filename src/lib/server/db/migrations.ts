/** Forward migrations, run at start. Never change one that has been released; add another. */
import type { Migration } from 'kysely';
import { FROM_001 } from '$lib/server/db/migrations/from-001.ts';
import { MAXIMA } from '$lib/server/db/migrations/029-maxima.ts';
import { RECORDING_KITS } from '$lib/server/db/migrations/030-recording-kits.ts';
import { FROM_011 } from '$lib/server/db/migrations/from-011.ts';

export const migrations: Record<string, Migration> = {
	...FROM_001,
	...FROM_011,
	'029-maxima': MAXIMA,
	'030-recording-kits': RECORDING_KITS
};
