import { json } from '@sveltejs/kit';
import { assertMayAttach, attach } from '$lib/server/revisions/attachments';
import { arrived, bodyOf, MAX_ATTACHMENT_BYTES, receive } from '$lib/server/storage/files';
import { InputError } from '$core/input-error';
import { anyRevisionOr404, jobOr404, orJson, releaserOf, tunerOr401 } from '$lib/server/http/http';
import { writeToCustomer } from '$lib/server/jobs/messages';
import { revision, withdrawalsOf, type Revision } from '$lib/server/revisions/revisions';
import type { Db } from '$lib/server/db/open';
import { vehicleOfJob } from '$lib/server/jobs/vehicles';
import type { Vehicle } from '$core/vehicle/document';
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
		const get = (k: string) => url.searchParams.get(k)?.trim() ?? '';
		const about = { name: get('name'), hardware: get('hardware'), software: get('software') };
		/** Who may attach it as the revision is now; asked before the file is taken in, and again when it has arrived. */
		const authorNow = async (db: Db, now: Revision, vehicle: Vehicle): Promise<string> => {
			const author = (now.state === 'released' ? releaserOf(locals) : tunerOr401(locals)).name;
			if ((await withdrawalsOf(db, job.id)).some((w) => w.revisionId === now.id))
				throw new InputError(`R${now.number} was withdrawn: nothing is attached to it any more`);
			assertMayAttach(now, vehicle, about.hardware, about.software, get('confirmed') === '1');
			return author;
		};
		await authorNow(app.db, rev, job.vehicle);
		const file = await receive(app.dataDir, bodyOf(request), MAX_ATTACHMENT_BYTES);
		await app.db.transaction().execute(async (trx) => {
			const now = await revision(trx, rev.id);
			if (!now) throw new InputError(`R${rev.number} was discarded while the file was on its way`);
			const author = await authorNow(trx, now, await vehicleOfJob(trx, job.id));
			const isNew = await attach(trx, now, file, { ...about, author });
			if (isNew && now.state === 'released')
				await writeToCustomer(
					trx,
					app.mailer,
					job,
					author,
					`The file for R${rev.number} is on your page: ${about.name}.`,
					{ subject: `${job.title}: the file for R${rev.number}`, asks: false }
				);
		});
		arrived(file);
		app.mailer.wake();
		return json({ sha256: file.sha256, bytes: file.bytes, id: rev.id }, { status: 201 });
	});
