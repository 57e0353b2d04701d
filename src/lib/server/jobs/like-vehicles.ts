/** Vehicles of a kind in the workshop: the same air, cylinders and injection. Practice is no work of the workshop. */
import { sql } from 'kysely';
import type { Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';

/** Others than `vehicleId`, the newest first; asked of the database, which reads no document that isn't wanted. */
export const kinOf = (db: Db, { engine }: Vehicle, vehicleId: number) =>
	db
		.selectFrom('vehicles')
		.innerJoin('customers', 'customers.id', 'vehicles.customer_id')
		.where('customers.practice', '=', 0)
		.where('vehicles.id', '!=', vehicleId)
		.where(sql<boolean>`json_extract(vehicles.document, '$.engine.aspiration') = ${engine.aspiration}`)
		.where(sql<boolean>`json_extract(vehicles.document, '$.engine.cylinders') = ${engine.cylinders}`)
		.where(
			sql<boolean>`coalesce(json_extract(vehicles.document, '$.engine.injection'), 'port') = ${engine.injection ?? 'port'}`
		)
		.orderBy('vehicles.id', 'desc');
