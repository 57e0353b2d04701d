/** Between requests and the rest: numbers out of paths, faults of the input as answers. */
import { error, fail, json } from '@sveltejs/kit';
import { Readable } from 'node:stream';
import { FieldErrors, InputError } from '$core/input-error.ts';
import type { App } from '$lib/server/context.ts';
import type { Tuner } from '$lib/server/auth/accounts.ts';
import { openFile } from '$lib/server/storage/files.ts';
import { photoOf } from '$lib/server/jobs/inspection.ts';
import { jobView, type JobView } from '$lib/server/jobs/jobs.ts';
import { logLine, type LogLine } from '$lib/server/logs/logs.ts';
import { revision, type Revision } from '$lib/server/revisions/revisions.ts';

/** Who is signed in; behind the guard of all routes this is a mere assertion. */
export function tunerOr401(locals: { tuner: Tuner | null }): Tuner {
	return locals.tuner ?? error(401, 'Your session has ended. Sign in and do it again.');
}

/**
 * Who may send a revision out, or take one back.
 * @throws InputError for an apprentice, who prepares
 */
export function releaserOf(locals: { tuner: Tuner | null }): Tuner {
	const tuner = tunerOr401(locals);
	if (tuner.role === 'apprentice')
		throw new InputError('an apprentice prepares; a tuner looks at it and sends it out');
	return tuner;
}

export function idOf(text: string): number {
	if (!/^\d{1,15}$/.test(text)) error(404, 'There is no such page.');
	return Number(text);
}

export async function jobOr404(app: App, id: string): Promise<JobView> {
	return (await jobView(app.db, idOf(id))) ?? error(404, 'There is no job by that number.');
}

/** A log of this very job. */
export async function logOr404(app: App, jobId: number, id: string): Promise<LogLine> {
	const log = await logLine(app.db, idOf(id));
	return log?.jobId === jobId ? log : error(404, 'There is no such log in this job.');
}

export async function anyLogOr404(app: App, id: string): Promise<LogLine> {
	return (await logLine(app.db, idOf(id))) ?? error(404, 'There is no log by that number.');
}

/** A revision of this very job. */
export async function revisionOr404(app: App, jobId: number, id: string): Promise<Revision> {
	const found = await revision(app.db, idOf(id));
	return found?.jobId === jobId ? found : error(404, 'There is no such revision in this job.');
}

export async function anyRevisionOr404(app: App, id: string): Promise<Revision> {
	return (await revision(app.db, idOf(id))) ?? error(404, 'There is no revision by that number.');
}

/** For form actions: a fault of the input becomes a message beside the form, with what was entered. */
export async function orFail<T>(work: () => Promise<T>, entered: Record<string, string> = {}) {
	try {
		return await work();
	} catch (e) {
		if (e instanceof InputError)
			return fail(400, {
				message: e.message,
				entered,
				...(e instanceof FieldErrors ? { fields: e.fields } : {})
			});
		throw e;
	}
}

/** For JSON routes: the same as an answer. */
export async function orJson(work: () => Promise<Response>): Promise<Response> {
	try {
		return await work();
	} catch (e) {
		if (e instanceof InputError) return json({ message: e.message }, { status: 400 });
		throw e;
	}
}

/** A download that a browser never shows as a page. */
export function download(body: BodyInit, name: string, type = 'application/octet-stream'): Response {
	return new Response(body, {
		headers: {
			'content-type': type,
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
			'content-security-policy': "default-src 'none'; sandbox",
			'x-content-type-options': 'nosniff'
		}
	});
}

/** A photo of this very job. It was drawn anew when it came in, so it is a JPEG and nothing else. */
export async function photoResponse(app: App, jobId: number, photoId: number): Promise<Response> {
	const photo = (await photoOf(app.db, jobId, photoId)) ?? error(404, 'There is no such photo.');
	const stream = Readable.toWeb(openFile(app.dataDir, photo.sha256)) as unknown as ReadableStream;
	return new Response(stream, {
		headers: {
			'content-type': 'image/jpeg',
			'cache-control': 'private, max-age=86400',
			'content-security-policy': "default-src 'none'; sandbox",
			'x-content-type-options': 'nosniff'
		}
	});
}

/** The text of a form field; empty when it isn't there or isn't text. */
export function field(data: FormData, name: string): string {
	const v = data.get(name);
	return typeof v === 'string' ? v.trim() : '';
}
