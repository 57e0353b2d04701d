/** Vehicles: what is known of each. */
import { InputError } from '$core/input-error.ts';
import { parseJson } from '$core/parse.ts';
import { LIMITS, type LimitName } from '$core/limits/profile.ts';
import { parseVehicle, type Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';

export async function vehicleById(db: Db, id: number): Promise<Vehicle | null> {
	const row = await db.selectFrom('vehicles').select('document').where('id', '=', id).executeTakeFirst();
	return row ? parseVehicle(parseJson(row.document)) : null;
}

/** The vehicle of a job. */
export async function vehicleOfJob(db: Db, jobId: number): Promise<Vehicle> {
	const row = await db
		.selectFrom('jobs')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select('vehicles.document')
		.where('jobs.id', '=', jobId)
		.executeTakeFirstOrThrow();
	return parseVehicle(parseJson(row.document));
}

/** Vehicles to copy from, newest first. */
export async function vehicleNames(db: Db): Promise<{ id: number; name: string }[]> {
	const rows = await db.selectFrom('vehicles').select(['id', 'document']).orderBy('id', 'desc').execute();
	return rows.map((r) => ({ id: r.id, name: (JSON.parse(r.document) as Vehicle).name }));
}

export async function storeVehicle(db: Db, id: number, vehicle: Vehicle): Promise<void> {
	await db
		.updateTable('vehicles')
		.set({ document: JSON.stringify(parseVehicle(vehicle)) })
		.where('id', '=', id)
		.execute();
}

/**
 * The vehicle with other limits: texts by name, an empty one takes the default again.
 * @throws InputError naming the limit
 */
export function withLimits(vehicle: Vehicle, fields: Readonly<Record<string, string>>): Vehicle {
	const limits: Record<string, number> = {};
	// What isn't a limit of this version is kept: another version may know it.
	for (const [name, value] of Object.entries(vehicle.limits ?? {}))
		if (!(name in LIMITS)) limits[name] = value;
	for (const name of Object.keys(LIMITS) as LimitName[]) {
		const text = (fields[name] ?? '').trim().replace(',', '.');
		if (text === '') continue;
		const value = Number(text);
		if (!Number.isFinite(value)) throw new InputError(`"${text}" is not a number`, LIMITS[name].meaning);
		if (value !== LIMITS[name].value) limits[name] = value;
	}
	const { limits: _before, ...rest } = vehicle;
	return parseVehicle(Object.keys(limits).length ? { ...rest, limits } : rest);
}
