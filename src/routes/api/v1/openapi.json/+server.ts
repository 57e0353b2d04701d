import { json } from '@sveltejs/kit';
import { openApi } from '$lib/server/http/openapi';
import type { RequestHandler } from './$types';

/** What programs may ask, as OpenAPI 3.1. */
export const GET: RequestHandler = () => json(openApi());
