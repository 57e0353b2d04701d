import { jobOfLink } from '$lib/server/http/customer';
import { idOf, photoResponse } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async (event) =>
	photoResponse(event.locals.app, await jobOfLink(event), idOf(event.params.photo));
