import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '$core/parse';
import { anyLogOr404, orJson } from '$lib/server/http/http';
import { traceWindow } from '$lib/server/logs/log-store';
import type { RequestHandler } from './$types';

const query = z.object({
	channels: z.string().transform((s) => s.split(',').filter(Boolean).slice(0, 40)),
	from: z.coerce.number(),
	to: z.coerce.number(),
	points: z.coerce.number().int().min(10).max(4000)
});

/** Channels of a log between two moments, thinned to about `points` buckets of minimum and maximum. */
export const GET: RequestHandler = async ({ params, url, locals }) =>
	orJson(async () => {
		const log = await anyLogOr404(locals.app, params.log);
		const q = parseWith(query, Object.fromEntries(url.searchParams));
		const traces: Record<string, unknown> = {};
		for (const channel of q.channels) {
			const window = await traceWindow(locals.app.db, log.id, channel, q.from, q.to, q.points);
			if (window) traces[channel] = window;
		}
		return json(traces);
	});
