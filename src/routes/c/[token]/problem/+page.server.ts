import { jobView } from '$lib/server/jobs/jobs';
import { phoneContext } from '$lib/server/http/phone-context';
import { jobOfLink } from '$lib/server/http/customer';
import { customerFields } from '$lib/server/http/customer-form';
import { orFail } from '$lib/server/http/http';
import { reportProblem } from '$lib/server/jobs/messages';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, parent }) => {
	const { jobId } = await parent();
	const job = (await jobView(locals.app.db, jobId))!;
	return { context: await phoneContext(locals.app.db, job, false) };
};

export const actions: Actions = {
	/** Without a recording: a lamp came on, a hose came off. */
	say: async (event) => {
		const { app } = event.locals;
		const jobId = await jobOfLink(event);
		const words = (await customerFields(event.request)).get('words') ?? '';
		return orFail(
			async () => {
				await reportProblem(app.db, (await jobView(app.db, jobId))!, words);
				return { said: true };
			},
			{ words }
		);
	}
};
