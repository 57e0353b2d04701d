import { createReadStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { InputError } from '$core/input-error';
import { OUT_FORMATS } from '$core/logfile/write';
import { parseWith } from '$core/parse';
import { DEFAULT_UNITS } from '$core/units/display';
import { anyLogOr404, download, orJson } from '$lib/server/http/http';
import { unitsFrom } from '$lib/server/http/preferences';
import type { RequestHandler } from './$types';

const query = z.object({
	format: z.enum(Object.keys(OUT_FORMATS) as [keyof typeof OUT_FORMATS, ...(keyof typeof OUT_FORMATS)[]]),
	from: z.coerce.number().min(0).default(0),
	to: z.coerce.number().optional(),
	/** `mine`: the reader's units; `canonical`: Tanto's own. */
	units: z.enum(['mine', 'canonical']).default('canonical')
});

/** A log, or a span of it, as canonical CSV, JSON Lines or Parquet. Made by a worker: a long log would hold up every page. */
export const GET: RequestHandler = async ({ params, url, locals, cookies }) =>
	orJson(async () => {
		const { dataDir, pool } = locals.app;
		const log = await anyLogOr404(locals.app, params.log);
		if (log.state !== 'screened') throw new InputError('the log is not read yet');
		const q = parseWith(query, Object.fromEntries(url.searchParams));
		await mkdir(join(dataDir, 'incoming'), { recursive: true });
		const path = join(dataDir, 'incoming', randomUUID());
		const answer = await pool.run('exportLog', {
			dataDir,
			logId: log.id,
			format: q.format,
			fromS: q.from,
			toS: q.to ?? log.durationS + 1,
			units: q.units === 'mine' ? unitsFrom(cookies) : DEFAULT_UNITS,
			path
		});
		if (!answer.ok) {
			await rm(path, { force: true });
			throw new InputError(answer.message);
		}
		const stream = createReadStream(path);
		stream.once('close', () => void rm(path, { force: true }));
		const { extension, type } = OUT_FORMATS[q.format];
		const span =
			q.to === undefined && q.from === 0
				? ''
				: `-${Math.round(q.from)}s-${Math.round(q.to ?? log.durationS)}s`;
		const name = `${log.name.replace(/(\.(csv|txt|tsv|jsonl|json|parquet|gz|zip))+$/i, '')}${span}.${extension}`;
		return download(Readable.toWeb(stream) as unknown as ReadableStream, name, type);
	});
