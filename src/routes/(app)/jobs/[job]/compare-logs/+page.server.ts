import { error } from '@sveltejs/kit';
import { fieldDifference, type LogFields } from '$core/correction/grid-field';
import { fuelStoich } from '$core/vehicle/facts';
import { anyLogOr404, field, jobOr404, orFail } from '$lib/server/http/http';
import { powerOf } from '$core/performance/power-curves';
import { fieldsOf } from '$lib/server/views/log-fields';
import { logsOf } from '$lib/server/logs/logs';
import { addSlip, removeSlip, slipsOf } from '$lib/server/logs/timeslips';
import type { Actions, PageServerLoad } from './$types';

/** The errors of both logs and what lies between them, bank by bank; empty where they can't be laid over each other. */
function mapsOf(a: LogFields | null, b: LogFields | null) {
	if (!a || !b || JSON.stringify(a.axes) !== JSON.stringify(b.axes)) return null;
	const several = a.banks.filter(Boolean).length > 1 && b.banks.filter(Boolean).length > 1;
	const pairs = several
		? a.banks.map((x, n) => ({ title: `Bank ${n + 1}`, x, y: b.banks[n] ?? null }))
		: [{ title: '', x: a.all, y: b.all }];
	return {
		axes: a.axes,
		banks: pairs.flatMap(({ title, x, y }) => {
			const difference = x && y ? fieldDifference(x, y) : null;
			return x && y && difference ? [{ title, before: x, after: y, difference }] : [];
		})
	};
}

export const load: PageServerLoad = async ({ params, url, locals }) => {
	const { app } = locals;
	const job = await jobOr404(app, params.job);
	const logs = (await logsOf(app.db, job.id)).filter((l) => l.state === 'screened');
	const speaking = logs.filter((l) => l.takenOut === null);
	const a = await anyLogOr404(app, url.searchParams.get('a') ?? String(speaking.at(-2)?.id ?? ''));
	const b = await anyLogOr404(app, url.searchParams.get('b') ?? String(speaking.at(-1)?.id ?? ''));
	// Summaries are worked out while the page waits: two long logs take a second or two.
	const [before, after] = await Promise.all(
		[a, b].map((l) => app.pool.run('summary', { dataDir: app.dataDir, logId: l.id }))
	);
	if (!before?.ok || !after?.ok)
		error(
			400,
			`One of the two logs can't be read: ${[before, after].flatMap((x) => (x?.ok === false ? [x.message] : [])).join('; ')}`
		);
	const maps = Promise.all([fieldsOf(app, a.id), fieldsOf(app, b.id)]).then(([x, y]) => mapsOf(x, y));
	const elsewhere = await app.db
		.selectFrom('logs')
		.innerJoin('jobs', 'jobs.id', 'logs.job_id')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.where('customers.practice', '=', 0)
		.select(['logs.id', 'logs.name', 'jobs.title'])
		.where('logs.job_id', '!=', job.id)
		.where('logs.state', '=', 'screened')
		.where('logs.taken_out', 'is', null)
		.orderBy('logs.id', 'desc')
		.limit(300)
		.execute();
	return {
		a: { id: a.id, name: a.title, summary: before.summary },
		b: { id: b.id, name: b.title, summary: after.summary },
		logs: logs
			.filter((l) => l.takenOut === null || l.id === a.id || l.id === b.id)
			.map((l) => ({ id: l.id, name: l.title })),
		elsewhere,
		slips: await slipsOf(app.db, job.id),
		stoich: fuelStoich(job.vehicle),
		power: powerOf(after.power, before.power),
		/** Comes after the page: two fields take a second or two. */
		maps
	};
};

export const actions: Actions = {
	addSlip: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const entered = Object.fromEntries(
			['title', 'ft60', 'eighth', 'eighthKmh', 'quarter', 'quarterKmh'].map((name) => [
				name,
				field(data, name)
			])
		);
		const number = (name: string) =>
			entered[name]!.trim() === '' ? null : Number(entered[name]!.trim().replace(',', '.'));
		const log = field(data, 'log');
		return orFail(async () => {
			await addSlip(locals.app.db, job.id, {
				title: entered['title']!,
				logId: log === '' ? null : Number(log),
				slip: {
					ft60: number('ft60'),
					eighth: number('eighth'),
					eighthKmh: number('eighthKmh'),
					quarter: number('quarter'),
					quarterKmh: number('quarterKmh')
				}
			});
			return { kept: true };
		}, entered);
	},
	removeSlip: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		await removeSlip(locals.app.db, job.id, Number(field(await request.formData(), 'id')));
	}
};
