/** Customers with their vehicles and jobs, and the search over all three. */
import type { Vehicle } from '../../core/vehicle/document.ts';
import type { Db } from './db/open.ts';

export interface CustomerLine {
	id: number;
	name: string;
	email: string | null;
	notes: string;
	vehicles: { id: number; name: string; jobId: number | null }[];
	jobs: { id: number; title: string; waitingOn: 'tuner' | 'customer'; vehicle: string; createdAt: string }[];
}

/** Every word has to stand somewhere in the customer, the vehicles or the jobs. */
function matches(line: CustomerLine, words: readonly string[]): boolean {
	const text = [
		line.name,
		line.email ?? '',
		line.notes,
		...line.vehicles.map((v) => v.name),
		...line.jobs.map((j) => j.title)
	]
		.join('\n')
		.toLowerCase();
	return words.every((w) => text.includes(w));
}

/** Customers that a search finds, newest first; an empty search finds all. */
export async function findCustomers(db: Db, search: string): Promise<CustomerLine[]> {
	const customers = await db.selectFrom('customers').selectAll().orderBy('id', 'desc').execute();
	const vehicles = await db
		.selectFrom('vehicles')
		.select(['id', 'customer_id', 'document'])
		.orderBy('id')
		.execute();
	const jobs = await db
		.selectFrom('jobs')
		.select(['id', 'customer_id', 'vehicle_id', 'title', 'waiting_on', 'created_at'])
		.orderBy('id', 'desc')
		.execute();
	const nameOf = new Map(vehicles.map((v) => [v.id, (JSON.parse(v.document) as Vehicle).name]));
	const byCustomer = <T extends { customer_id: number }>(rows: T[]) => {
		const out = new Map<number, T[]>();
		for (const r of rows) out.set(r.customer_id, [...(out.get(r.customer_id) ?? []), r]);
		return out;
	};
	const vehiclesOf = byCustomer(vehicles);
	const jobsOf = byCustomer(jobs);
	const jobOfVehicle = new Map(jobs.map((j) => [j.vehicle_id, j.id]));
	const words = search.toLowerCase().split(/\s+/).filter(Boolean);
	return customers
		.map((c): CustomerLine => ({
			id: c.id,
			name: c.name,
			email: c.email,
			notes: c.notes,
			vehicles: (vehiclesOf.get(c.id) ?? []).map((v) => ({
				id: v.id,
				name: nameOf.get(v.id)!,
				jobId: jobOfVehicle.get(v.id) ?? null
			})),
			jobs: (jobsOf.get(c.id) ?? []).map((j) => ({
				id: j.id,
				title: j.title,
				waitingOn: j.waiting_on,
				vehicle: nameOf.get(j.vehicle_id)!,
				createdAt: j.created_at
			}))
		}))
		.filter((line) => matches(line, words));
}

export async function customer(db: Db, id: number): Promise<CustomerLine | null> {
	return (await findCustomers(db, '')).find((c) => c.id === id) ?? null;
}

export async function saveCustomer(
	db: Db,
	id: number,
	about: { name: string; email: string | null; notes: string }
): Promise<void> {
	await db.updateTable('customers').set(about).where('id', '=', id).execute();
}
