import { Readable } from 'node:stream';
import { piece, type BundleHead } from '$core/logfile/bundle';
import type { EvidenceContext } from '$lib/workers/evidence.worker';
import { InputError } from '$core/input-error';
import { anyLogOr404, orJson } from '$lib/server/http/http';
import { contextOf } from '$lib/server/logs/log-context';
import { logHead, storedColumns } from '$lib/server/logs/log-store';
import type { RequestHandler } from './$types';

/** All columns of a log as they are stored, with what it was screened with: for the worker of the page that looks into them. */
export const GET: RequestHandler = async ({ params, locals }) =>
	orJson(async () => {
		const { db } = locals.app;
		const log = await anyLogOr404(locals.app, params.log);
		if (log.state !== 'screened') throw new InputError('the log is not read yet');
		const { vehicle, ambientC, calibrations, stated } = await contextOf(db, log.id);
		const calibration = calibrations[stated];
		const head: BundleHead & { context: EvidenceContext } = {
			...(await logHead(db, log.id)),
			context: { vehicle, ambientC, calibration: calibration ?? null }
		};
		async function* pieces() {
			yield piece(new TextEncoder().encode(JSON.stringify(head)));
			for await (const blocks of storedColumns(db, log.id)) for (const b of blocks) yield piece(b);
		}
		return new Response(Readable.toWeb(Readable.from(pieces())) as unknown as ReadableStream, {
			headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' }
		});
	});
