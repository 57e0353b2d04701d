/** A vehicle is changed by hand, and its logs are screened again with what changed. */
import type { Vehicle } from '$core/vehicle/document.ts';
import type { App } from '$lib/server/context.ts';
import { storeVehicle } from '$lib/server/jobs/vehicles.ts';
import { readAgain } from './read-again.ts';

/** Stores a changed vehicle and screens the logs of its jobs again. */
export async function saveVehicle(app: App, id: number, vehicle: Vehicle): Promise<void> {
	await storeVehicle(app.db, id, vehicle);
	await screenLogsOf(app, id);
}

/** Screens the logs of a vehicle's jobs again, with what stands of it now. */
export async function screenLogsOf(app: App, id: number): Promise<void> {
	const logs = await app.db
		.selectFrom('logs')
		.innerJoin('jobs', 'jobs.id', 'logs.job_id')
		.select('logs.id')
		.where('jobs.vehicle_id', '=', id)
		.where('logs.state', 'in', ['screened', 'failed'])
		.execute();
	for (const log of logs) await readAgain(app, log.id);
}
