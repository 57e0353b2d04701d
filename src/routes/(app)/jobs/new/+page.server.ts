import { redirect } from '@sveltejs/kit';
import { sheetOf } from '$core/vehicle/sheet';
import { customer } from '$lib/server/jobs/customers';
import { createJob } from '$lib/server/jobs/jobs';
import { orFail, tunerOr401 } from '$lib/server/http/http';
import { newJobFrom, sheetFields } from '$lib/server/http/new-job-form';
import type { Db } from '$lib/server/db/open';
import { vehicleById, vehicleNames } from '$lib/server/jobs/vehicles';
import type { Actions, PageServerLoad } from './$types';

async function startingPoints(db: Db) {
	const rows = await db
		.selectFrom('revisions')
		.innerJoin('jobs', 'jobs.id', 'revisions.job_id')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.select(['revisions.id', 'revisions.number', 'jobs.title', 'customers.name', 'jobs.id as job'])
		.where('revisions.state', '!=', 'draft')
		.where('customers.practice', '=', 0)
		.orderBy('jobs.id', 'desc')
		.orderBy('revisions.number', 'desc')
		.execute();
	const seen = new Set<number>();
	return rows
		.filter((r) => !seen.has(r.job) && seen.add(r.job))
		.map((r) => ({ id: r.id, word: `${r.name}: ${r.title}, R${r.number}` }));
}

export const load: PageServerLoad = async ({ locals, url }) => {
	const { db } = locals.app;
	const from = Number(url.searchParams.get('from') ?? Number.NaN);
	const vehicle = Number.isInteger(from) ? await vehicleById(db, from) : null;
	const known = Number(url.searchParams.get('customer') ?? Number.NaN);
	return {
		vehicles: await vehicleNames(db),
		template: vehicle ? { id: from, fields: { ...sheetOf(vehicle), name: '' } } : null,
		customer: Number.isInteger(known) ? await customer(db, known) : null,
		customers: await db
			.selectFrom('customers')
			.select(['name', 'email'])
			.where('practice', '=', 0)
			.orderBy('name')
			.execute(),
		/** Newest revision that isn't a draft of each job, the newest jobs first. */
		revisions: await startingPoints(db)
	};
};

export const actions: Actions = {
	default: async ({ request, locals }) => {
		const data = await request.formData();
		const result = await orFail(async () => {
			const job = await newJobFrom(data, locals.app.db);
			return {
				id: await createJob(locals.app.db, job, new Date(), tunerOr401(locals)),
				empty: job.calibration.items.length === 0
			};
		}, sheetFields(data));
		if (!('id' in result)) return result;
		// Without a calibration the tables come next.
		redirect(303, result.empty ? `/jobs/${result.id}/tables` : `/jobs/${result.id}`);
	}
};
