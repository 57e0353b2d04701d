import { CHECKS } from '$core/screening/codes';
import { findingsQuestion, searchFindings } from '$lib/server/jobs/findings-search';
import type { PageServerLoad } from './$types';

/** Empty fields of a form are questions that nobody asked. */
const asked = (url: URL) =>
	Object.fromEntries([...url.searchParams].filter(([, value]) => value.trim() !== ''));

export const load: PageServerLoad = async ({ url, locals }) => {
	const question = findingsQuestion.parse(asked(url));
	return {
		question,
		found: await searchFindings(locals.app.db, question),
		checks: CHECKS.map(({ code, title }) => ({ code, title })).sort((a, b) => a.title.localeCompare(b.title))
	};
};
