import { json } from '@sveltejs/kit';
import { assertMayAttach, attach } from '$lib/server/attachments';
import { bodyOf, MAX_ATTACHMENT_BYTES, receive } from '$lib/server/files';
import { InputError } from '$core/input-error';
import { anyRevisionOr404, jobOr404, orJson, releaserOf, tunerOr401 } from '$lib/server/http';
import { writeToCustomer } from '$lib/server/messages';
import { withdrawalsOf } from '$lib/server/revisions';
import type { RequestHandler } from './$types';

/**
 * Attaches a closed file to a revision: the body is the file; name, hardware and software stand in the query. To one that is released it
 * goes with the word that somebody has looked (`confirmed=1`), and the customer is told.
 */
export const PUT: RequestHandler = async ({ params, request, url, locals }) =>
	orJson(async () => {
		const { app } = locals;
		const rev = await anyRevisionOr404(app, params.rev);
		const job = await jobOr404(app, String(rev.jobId));
		const author = (rev.state === 'released' ? releaserOf(locals) : tunerOr401(locals)).name;
		const get = (k: string) => url.searchParams.get(k)?.trim() ?? '';
		const about = { name: get('name'), hardware: get('hardware'), software: get('software'), author };
		if ((await withdrawalsOf(app.db, job.id)).some((w) => w.revisionId === rev.id))
			throw new InputError(`R${rev.number} was withdrawn: nothing is attached to it any more`);
		assertMayAttach(rev, job.vehicle, about.hardware, about.software, get('confirmed') === '1');
		const file = await receive(app.dataDir, bodyOf(request), MAX_ATTACHMENT_BYTES);
		await app.db.transaction().execute(async (trx) => {
			await attach(trx, rev, file, about);
			if (rev.state === 'released')
				await writeToCustomer(
					trx,
					app.mailer,
					job,
					author,
					`The file for R${rev.number} is on your page: ${about.name}.`,
					{ subject: `${job.title}: the file for R${rev.number}` }
				);
		});
		app.mailer.wake();
		return json({ sha256: file.sha256, bytes: file.bytes, id: rev.id }, { status: 201 });
	});
