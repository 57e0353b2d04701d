/** A calibration as it came beside the workshop's own of like engines: what stands out in it, and with whose it was compared. */
import { isLike, oddities, type LikeEngine, type Oddity } from '$core/calibration/base-sanity.ts';
import { parseCalibration } from '$core/calibration/document.ts';
import { parseJson } from '$core/parse.ts';
import { parseVehicle } from '$core/vehicle/document.ts';
import { baselineOf } from './baseline.ts';
import type { Db } from './db/open.ts';
import type { JobView } from './jobs.ts';

/** Of so many like engines the newest are compared with. */
const MOST_LIKE = 12;

export interface BaseSanity {
	found: Oddity[];
	/** Names of the engines that it could be compared with. */
	like: string[];
}

/** The newest calibration that went out of every other job with such an engine. */
async function workshopOf(db: Db, job: JobView, own: Pick<LikeEngine, 'vehicle' | 'calibration'>) {
	const others = await db
		.selectFrom('jobs')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.where('customers.practice', '=', 0)
		.select(['jobs.id', 'vehicles.document'])
		.where('jobs.id', '!=', job.id)
		.where('jobs.vehicle_id', '!=', job.vehicleId)
		.orderBy('jobs.id', 'desc')
		.execute();
	const out: LikeEngine[] = [];
	for (const o of others) {
		if (out.length === MOST_LIKE) break;
		const vehicle = parseVehicle(parseJson(o.document));
		// By what the sheet says first: a calibration is large.
		if (!isLike(own, { vehicle, calibration: own.calibration })) continue;
		const row = await db
			.selectFrom('revisions')
			.select('document')
			.where('job_id', '=', o.id)
			.where('state', '=', 'released')
			.orderBy('number', 'desc')
			.limit(1)
			.executeTakeFirst();
		if (row)
			out.push({ name: vehicle.name, vehicle, calibration: parseCalibration(parseJson(row.document)) });
	}
	return out;
}

export async function baseSanityOf(db: Db, job: JobView): Promise<BaseSanity> {
	const { calibration } = await baselineOf(db, job.id);
	const own = { vehicle: job.vehicle, calibration };
	return oddities(calibration, job.vehicle, await workshopOf(db, job, own));
}
