import { evidencePage } from '$lib/server/http/evidence-page';
import { field, jobOr404, logOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { proofsOf } from '$lib/server/jobs/knock-proofs';
import { recordStep, startProof } from '$lib/server/use-cases/prove';
import { readJobAgain } from '$lib/server/use-cases/read-again';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const page = await evidencePage(locals.app, params, '/knock');
	return { ...page, proofs: await proofsOf(locals.app.db, page.log.jobId) };
};

export const actions: Actions = {
	start: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const log = await logOr404(app, job.id, params.log);
		const entered = Object.fromEntries(
			[...(await request.formData())].map(([k, v]) => [k, typeof v === 'string' ? v : ''])
		);
		return orFail(async () => {
			await startProof(app, job.id, log.id, tunerOr401(locals).name, entered);
			return { started: true };
		}, entered);
	},
	step: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const log = await logOr404(app, job.id, params.log);
		const data = await request.formData();
		return orFail(async () => {
			const decides = await recordStep(app, job.id, log.id, tunerOr401(locals).name, {
				proof: Number(field(data, 'proof')),
				step: field(data, 'step')
			});
			if (decides) await readJobAgain(app, job.id);
			return { recorded: true };
		});
	}
};
