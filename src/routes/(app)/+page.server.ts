import { tuners } from '$lib/server/auth/accounts';
import { tunerOr401 } from '$lib/server/http/http';
import { NOBODY, queue, type QueueQuestion } from '$lib/server/jobs/queue';
import type { PageServerLoad } from './$types';

const LISTS = ['mine', 'theirs', 'done', 'archived'] as const;

export const load: PageServerLoad = async ({ locals, url }) => {
	const whose = url.searchParams.get('whose');
	const asked = url.searchParams.get('list');
	const question: QueueQuestion = {
		page: Number(url.searchParams.get('page')),
		search: (url.searchParams.get('q') ?? '').slice(0, 200),
		only: LISTS.find((l) => l === asked) ?? null,
		tuner: whose === 'me' ? tunerOr401(locals).id : whose === NOBODY ? NOBODY : null
	};
	return {
		...(await queue(locals.app.db, question)),
		search: question.search ?? '',
		only: question.only ?? null,
		whose: question.tuner === null ? null : whose,
		/** One alone has nobody to hand a job to. */
		several: (await tuners(locals.app.db)).length > 1,
		now: Date.now()
	};
};
