/** The measure of a step of a knock proof: retard over its region. */
import { proofMeasure } from '$core/evidence/knock/proof.ts';
import type { ProofRegion } from '$core/evidence/knock/proof-region.ts';
import { InputError } from '$core/input-error.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

export const proof = task(async ({ logId, region }: Place & { logId: number; region: ProofRegion }, db) => {
	const measure = proofMeasure(await preparedLog(db, logId), region);
	if (!measure) throw new InputError('the log has no knock retard, or no pressure, to compare by');
	return { measure };
});
