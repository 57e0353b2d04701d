/** Logs and revisions as the tasks take them from the database. */
import { parseCalibration, type Calibration } from '$core/calibration/document.ts';
import type { Evidence } from '$core/correction/evidence.ts';
import { prepare } from '$core/evidence/prepare.ts';
import type { Prepared } from '$core/evidence/prepared.ts';
import { screenPrepared } from '$core/screening/screen.ts';
import { parseVehicle, type Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';
import { contextOf } from '$lib/server/logs/log-context.ts';
import { loadLog } from '$lib/server/logs/log-store.ts';

/** A stored log, prepared with what stands of it now. */
export const preparedLog = async (db: Db, logId: number): Promise<Prepared> =>
	prepare(await loadLog(db, logId), await contextOf(db, logId));

/** Logs ready to propose from. */
export async function evidenceOf(db: Db, logIds: readonly number[]): Promise<Evidence[]> {
	const out: Evidence[] = [];
	for (const id of logIds) {
		const input = await preparedLog(db, id);
		out.push({ input, findings: screenPrepared(input).findings });
	}
	return out;
}

/** A revision and the vehicle that it is for. */
export async function revisionInVehicle(
	db: Db,
	revisionId: number
): Promise<{ calibration: Calibration; vehicle: Vehicle }> {
	const row = await db
		.selectFrom('revisions')
		.innerJoin('jobs', 'jobs.id', 'revisions.job_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select(['revisions.document', 'vehicles.document as vehicle'])
		.where('revisions.id', '=', revisionId)
		.executeTakeFirstOrThrow();
	return {
		calibration: parseCalibration(JSON.parse(row.document)),
		vehicle: parseVehicle(JSON.parse(row.vehicle))
	};
}
