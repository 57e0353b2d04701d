import { idOf } from '$lib/server/http/http';
import { kitResponse } from '$lib/server/http/kit-response';
import { kitOf } from '$lib/server/revisions/recording-kits';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, locals }) =>
	kitResponse(locals.app.dataDir, (await kitOf(locals.app.db, idOf(params.layout))).files, params.file);
