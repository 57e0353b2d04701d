import { titleOf } from '$core/calibration/items';
import { error } from '@sveltejs/kit';
import { fuelStoich } from '$core/vehicle/facts';
import { idOf, jobOr404, revisionOr404 } from '$lib/server/http/http';
import { logsOf } from '$lib/server/logs/logs';
import { replayOf, replayOfProposal } from '$lib/server/views/replays';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, url, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const rev = await revisionOr404(locals.app, job.id, params.rev);
	if (rev.parentId === null) error(404, 'R0 is the beginning: there is nothing to replay with it.');
	const wanted = url.searchParams.get('log');
	const proposed = rev.state === 'draft' && url.searchParams.has('proposal');
	const { replay, log, problem } = await (proposed ? replayOfProposal : replayOf)(
		locals.app,
		rev,
		wanted === null ? undefined : idOf(wanted)
	);
	return {
		rev: { id: rev.id, number: rev.number, state: rev.state },
		proposed,
		replay,
		log,
		problem,
		stoich: fuelStoich(job.vehicle),
		titles: Object.fromEntries(rev.calibration.items.map((i) => [i.id, titleOf(i)])),
		logs: (await logsOf(locals.app.db, job.id))
			.filter((l) => l.state === 'screened' && (l.takenOut === null || l.id === log?.id))
			.map((l) => ({ id: l.id, title: l.title }))
	};
};
