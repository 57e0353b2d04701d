import { json } from '@sveltejs/kit';
import { importArchive } from '$lib/server/archive/import';
import { orJson } from '$lib/server/http/http';
import { bodyOf } from '$lib/server/storage/files';
import type { RequestHandler } from './$types';

/** Takes a job in out of the archive of another Tanto; its logs are read anew. */
export const PUT: RequestHandler = ({ request, locals }) =>
	orJson(async () => json({ job: await importArchive(locals.app, bodyOf(request)) }, { status: 201 }));
