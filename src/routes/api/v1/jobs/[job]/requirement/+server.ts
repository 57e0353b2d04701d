import { json } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { speakingFor } from '$lib/server/logs/log-selection';
import { download, jobOr404, orJson, revisionOr404 } from '$lib/server/http/http';
import { currentRevision } from '$lib/server/revisions/revisions';
import type { RequestHandler } from './$types';

/** What the engine wants of the fuel table of a revision (the current one unless named), by all logs that still speak. */
export const GET: RequestHandler = async ({ params, url, locals }) =>
	orJson(async () => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const named = url.searchParams.get('revision');
		const revisionId = named
			? (await revisionOr404(app, job.id, named)).id
			: (await currentRevision(app.db, job.id)).id;
		const logIds = await speakingFor(app.db, job.id, null);
		if (logIds.length === 0) throw new InputError('no log of this job can be used yet');
		const answer = await app.pool.run('requirement', { dataDir: app.dataDir, logIds, revisionId });
		if (!answer.ok) throw new InputError(answer.message);
		if (url.searchParams.get('format') === 'csv') {
			if (!answer.csv) throw new InputError('the logs say nothing about the fuel table');
			return download(answer.csv, `requirement of job ${job.id}.csv`, 'text/csv; charset=utf-8');
		}
		return json({ requirement: answer.requirement, next: answer.next, logIds });
	});
