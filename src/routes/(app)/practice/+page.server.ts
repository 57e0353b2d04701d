import { redirect } from '@sveltejs/kit';
import { LEVELS } from '$core/practice/levels';
import { field, orFail, tunerOr401 } from '$lib/server/http/http';
import { sessionsOf, startPractice } from '$lib/server/use-cases/practice';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const sessions = await sessionsOf(locals.app.db, tunerOr401(locals).id);
	return {
		levels: LEVELS.map(({ id, title, teaches }) => ({ id, title, teaches })),
		sessions: sessions.map(({ id, level, seed, state, createdAt, endedAt }) => ({
			id,
			level,
			seed,
			createdAt,
			endedAt,
			logs: state.rounds.length,
			won: state.end ? state.end.standing.left.length === 0 : null
		}))
	};
};

const MOST_SEEDS = 9999;

export const actions: Actions = {
	start: async ({ request, locals }) => {
		const data = await request.formData();
		const typed = field(data, 'seed');
		const seed = typed ? Number(typed) : 1 + Math.floor(Math.random() * MOST_SEEDS);
		const result = await orFail(
			() => startPractice(locals.app.db, Number(field(data, 'level')), seed, tunerOr401(locals)),
			{ seed: typed }
		);
		if (typeof result !== 'number') return result;
		redirect(303, `/practice/${result}`);
	}
};
