/** A calibration as it came beside the workshop's own of like engines: what stands out in it, and with whose it was compared. */
import { oddities, type LikeEngine, type Oddity } from '$core/calibration/base-sanity.ts';
import { parseCalibration } from '$core/calibration/document.ts';
import { parseJson } from '$core/parse.ts';
import { parseVehicle } from '$core/vehicle/document.ts';
import { baselineOf } from './revisions.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
import { kinOf } from '$lib/server/jobs/like-vehicles.ts';

/** Of so many vehicles of its kind the newest are looked at. */
const MOST_LIKE = 24;

export interface BaseSanity {
	found: Oddity[];
	/** Names of the engines that it could be compared with. */
	like: string[];
}

/** The newest calibration that went out to every other vehicle of its kind. */
async function workshopOf(db: Db, job: JobView): Promise<LikeEngine[]> {
	const rows = await kinOf(db, job.vehicle, job.vehicleId)
		.innerJoin('jobs', 'jobs.vehicle_id', 'vehicles.id')
		.innerJoin('revisions', 'revisions.job_id', 'jobs.id')
		.where('revisions.state', '=', 'released')
		.where((e) =>
			e(
				'revisions.number',
				'=',
				e
					.selectFrom('revisions as r')
					.select((x) => x.fn.max('r.number').as('n'))
					.whereRef('r.job_id', '=', 'jobs.id')
					.where('r.state', '=', 'released')
			)
		)
		.select(['vehicles.document as vehicle', 'revisions.document as calibration'])
		.limit(MOST_LIKE)
		.execute();
	return rows.map((r) => {
		const vehicle = parseVehicle(parseJson(r.vehicle));
		return { name: vehicle.name, vehicle, calibration: parseCalibration(parseJson(r.calibration)) };
	});
}

export async function baseSanityOf(db: Db, job: JobView): Promise<BaseSanity> {
	const { calibration } = await baselineOf(db, job.id);
	return oddities(calibration, job.vehicle, await workshopOf(db, job));
}
