/** Search over all findings of the workshop: where else a thing was seen, how large, and what it was in the end. */
import { sql } from 'kysely';
import { z } from 'zod';
import { CODES } from '$core/screening/codes.ts';
import type { Severity } from '$core/screening/types.ts';
import type { Db } from '$lib/server/db/open.ts';

const number = z.coerce.number().min(-1e6).max(1e6).optional().catch(undefined);
/** What an address asks for; what isn't understood is left out. */
export const findingsQuestion = z.object({
	/** Code of the check. */
	what: z
		.string()
		.refine((c) => (CODES as readonly string[]).includes(c))
		.optional()
		.catch(undefined),
	/** At least this large, whichever way. */
	least: number,
	/** At engine speeds from here on. */
	rpm: number,
	severity: z.enum(['stop', 'fix', 'watch', 'note']).optional().catch(undefined),
	/** Each has to stand somewhere in customer, job or vehicle. */
	words: z.string().max(200).optional().catch(undefined)
});
export type FindingsQuestion = z.infer<typeof findingsQuestion>;

export interface FoundFinding {
	logId: number;
	jobId: number;
	job: string;
	customer: string;
	vehicle: string;
	at: string;
	severity: Severity;
	title: string;
	value: number | null;
	unit: string;
	rpm: [number, number] | null;
	/** The newest answer of a tuner to it. */
	answer: { kind: string; words: string } | null;
}

export interface FoundFindings {
	rows: FoundFinding[];
	/** Over all of them, not only those shown. */
	logs: number;
	jobs: number;
}

const MOST = 100;

/** The newest first; practice is no work of the workshop. */
export async function searchFindings(db: Db, q: FindingsQuestion): Promise<FoundFindings> {
	let found = db
		.selectFrom('findings as f')
		.innerJoin('logs', 'logs.id', 'f.log_id')
		.innerJoin('jobs', 'jobs.id', 'logs.job_id')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.where('customers.practice', '=', 0)
		.where('logs.taken_out', 'is', null);
	if (q.what) found = found.where('f.code', '=', q.what);
	// Notes are asked for by name: they would hide the rest.
	found = found.where('f.severity', q.severity ? '=' : '!=', q.severity ?? 'note');
	if (q.least !== undefined) found = found.where(sql<boolean>`abs(f.value) >= ${Math.abs(q.least)}`);
	if (q.rpm !== undefined) found = found.where('f.rpm_high', '>=', q.rpm);
	for (const word of (q.words ?? '').toLowerCase().split(/\s+/).filter(Boolean))
		found = found.where(
			sql<boolean>`instr(lower(jobs.title || ' ' || customers.name || ' ' || json_extract(vehicles.document, '$.name')), ${word}) > 0`
		);
	const { logs, jobs } = await found
		.select(({ fn }) => [
			fn.count<number>('logs.id').distinct().as('logs'),
			fn.count<number>('jobs.id').distinct().as('jobs')
		])
		.executeTakeFirstOrThrow();
	const rows = await found
		.select([
			'f.log_id',
			'f.severity',
			'f.title',
			'f.value',
			'f.unit',
			'f.rpm_low',
			'f.rpm_high',
			'jobs.id as job_id',
			'jobs.title as job',
			'customers.name as customer',
			'logs.received_at as at'
		])
		.select(sql<string>`json_extract(vehicles.document, '$.name')`.as('vehicle'))
		.select(
			sql<string | null>`(select kind || char(10) || reason from finding_answers a
				where a.job_id = jobs.id and a.key = f.key order by a.id desc limit 1)`.as('answer')
		)
		.orderBy('f.log_id', 'desc')
		.limit(MOST)
		.execute();
	return {
		logs,
		jobs,
		rows: rows.map((r) => {
			const [kind, ...words] = r.answer?.split('\n') ?? [];
			return {
				logId: r.log_id,
				jobId: r.job_id,
				job: r.job,
				customer: r.customer,
				vehicle: r.vehicle,
				at: r.at,
				severity: r.severity,
				title: r.title,
				value: r.value,
				unit: r.unit ?? '',
				rpm: r.rpm_low === null || r.rpm_high === null ? null : [r.rpm_low, r.rpm_high],
				answer: kind ? { kind, words: words.join('\n') } : null
			};
		})
	};
}
