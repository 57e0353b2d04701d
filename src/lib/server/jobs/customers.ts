/** Customers with their vehicles and jobs, and the search over all three. */
import { sql } from 'kysely';
import type { Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';

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
	const customers = await db
		.selectFrom('customers')
		.selectAll()
		.where('practice', '=', 0)
		.orderBy('id', 'desc')
		.execute();
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

export interface Found {
	kind: 'job' | 'customer';
	id: number;
	title: string;
	detail: string;
}

const MOST_FOUND = 12;

/** Jobs, then customers, with every word somewhere in them: what the command list leads to. */
export async function find(db: Db, search: string): Promise<Found[]> {
	const words = search.toLowerCase().split(/\s+/).filter(Boolean);
	if (words.length === 0) return [];
	const has = (text: string) => words.every((w) => text.toLowerCase().includes(w));
	const jobs = await db
		.selectFrom('jobs')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select(['jobs.id', 'jobs.title', 'customers.name'])
		.select(sql<string>`json_extract(vehicles.document, '$.name')`.as('vehicle'))
		.where('customers.practice', '=', 0)
		.orderBy('jobs.id', 'desc')
		.execute();
	const customers = await db
		.selectFrom('customers')
		.select(['id', 'name', 'email'])
		.where('practice', '=', 0)
		.orderBy('id', 'desc')
		.execute();
	return [
		...jobs
			.filter((j) => has(`${j.title} ${j.name} ${j.vehicle}`))
			.map((j): Found => ({ kind: 'job', id: j.id, title: j.title, detail: `${j.name}, ${j.vehicle}` })),
		...customers
			.filter((c) => has(`${c.name} ${c.email ?? ''}`))
			.map((c): Found => ({ kind: 'customer', id: c.id, title: c.name, detail: c.email ?? '' }))
	].slice(0, MOST_FOUND);
}
