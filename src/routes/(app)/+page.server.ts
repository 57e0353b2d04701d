import { queue, type QueueQuestion } from '$lib/server/queue';
import type { PageServerLoad } from './$types';

const LISTS = ['mine', 'theirs', 'done', 'archived'] as const;

export const load: PageServerLoad = async ({ locals, url }) => {
	const asked = url.searchParams.get('list');
	const question: QueueQuestion = {
		page: Number(url.searchParams.get('page')),
		search: (url.searchParams.get('q') ?? '').slice(0, 200),
		only: LISTS.find((l) => l === asked) ?? null
	};
	return {
		...(await queue(locals.app.db, question)),
		search: question.search ?? '',
		only: question.only ?? null,
		now: Date.now()
	};
};
