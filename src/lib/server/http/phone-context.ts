/** What the customer's phone needs to check a log by itself: the vehicle, the plan, what was decided of this customer's exports. */
import type { PhoneContext } from '$lib/workers/phone-check.worker.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
import { layoutsOf } from '$lib/server/logs/file-layouts.ts';
import { currentRequest } from '$lib/server/jobs/drive-plans.ts';
import { confirmedRevision, revisionsOf, withdrawalsOf } from '$lib/server/revisions/revisions.ts';

/** What may be in the car, the newest first, and which of it the customer has confirmed; `null` while the newest isn't. */
async function inCar(db: Db, jobId: number): Promise<Pick<PhoneContext, 'revisions' | 'confirmed'>> {
	const gone = new Set((await withdrawalsOf(db, jobId)).map((w) => w.revisionId));
	const frozen = (await revisionsOf(db, jobId)).filter((r) => r.state !== 'draft' && !gone.has(r.id));
	const confirmed = await confirmedRevision(db, jobId);
	return {
		revisions: frozen.reverse().map(({ id, number }) => ({ id, number })),
		confirmed: confirmed.id === frozen[0]?.id ? confirmed.id : null
	};
}

export async function phoneContext(db: Db, job: JobView, withPlan: boolean): Promise<PhoneContext> {
	const rows = await db
		.selectFrom('assignments')
		.selectAll()
		.where('customer_id', '=', job.customerId)
		.execute();
	return {
		vehicle: job.vehicle,
		request: withPlan ? ((await currentRequest(db, job.id))?.plan ?? null) : null,
		layouts: await layoutsOf(db, job.customerId),
		...(await inCar(db, job.id)),
		remembered: rows.map((r) => [r.key, { channel: r.channel, unit: r.unit }])
	};
}
