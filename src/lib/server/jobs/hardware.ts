/** What was changed on the engine of a job: logs from before tell of another one. */
import type { Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { PlacedEvent } from './timeline-event.ts';

export interface HardwareChange {
	id: number;
	what: string;
	at: string;
	author: string;
}

/** Newest first. */
export const hardwareOf = (db: Db, jobId: number): Promise<HardwareChange[]> =>
	db
		.selectFrom('hardware_changes')
		.select(['id', 'what', 'at', 'author'])
		.where('job_id', '=', jobId)
		.orderBy('at', 'desc')
		.orderBy('id', 'desc')
		.execute();

/** The event on the string. */
export async function insertHardware(
	db: Db,
	jobId: number,
	{ what, at, author, injectors }: { what: string; at: string; author: string; injectors: boolean },
	now: Date
): Promise<void> {
	await db
		.insertInto('hardware_changes')
		.values({ job_id: jobId, what, at, author, created_at: now.toISOString(), injectors: injectors ? 1 : 0 })
		.execute();
}

/** The vehicle without the baselines that were measured on other hardware; the same one where there are none. */
export function withoutMeasured(vehicle: Vehicle): Vehicle {
	const { coolantIdleC, idleMapKpa, boostKpa, ...kept } = vehicle.baselines ?? {};
	return coolantIdleC || idleMapKpa !== undefined || boostKpa ? { ...vehicle, baselines: kept } : vehicle;
}

/** What was changed on the car, for the timeline. */
export async function hardwareEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('hardware_changes')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'hardware_changes.id').on('timeline.kind', '=', 'hardware')
		)
		.select(['id', 'what', 'at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((h) => ({
		n: h.n,
		kind: 'hardware',
		id: h.id,
		label: 'Hardware changed',
		at: h.at,
		state: 'hardware',
		detail: h.what
	}));
}
