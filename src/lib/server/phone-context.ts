/** What the customer's phone needs to check a log by itself: the vehicle, the plan, what was decided of this customer's exports. */
import type { PhoneContext } from '../workers/phone-check.worker.ts';
import type { Db } from './db/open.ts';
import type { JobView } from './jobs.ts';
import { layoutsOf } from './layouts.ts';
import { currentRequest } from './requests.ts';

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
		remembered: rows.map((r) => [r.key, { channel: r.channel, unit: r.unit }])
	};
}
