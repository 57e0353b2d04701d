import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '$core/parse';
import { anyLogOr404, orJson } from '$lib/server/http/http';
import { spanStatistics } from '$lib/server/logs/log-store';
import type { RequestHandler } from './$types';

const query = z.object({
	channels: z.string().transform((s) => s.split(',').filter(Boolean).slice(0, 40)),
	from: z.coerce.number(),
	to: z.coerce.number()
});

/** Lowest, mean and highest of channels between two moments. */
export const GET: RequestHandler = async ({ params, url, locals }) =>
	orJson(async () => {
		const log = await anyLogOr404(locals.app, params.log);
		const q = parseWith(query, Object.fromEntries(url.searchParams));
		const stats: Record<string, unknown> = {};
		for (const channel of q.channels) {
			const s = await spanStatistics(locals.app.db, log.id, channel, q.from, q.to);
			if (s) stats[channel] = s;
		}
		return json(stats);
	});
