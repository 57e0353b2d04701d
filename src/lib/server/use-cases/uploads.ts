/**
 * Logs that arrive in pieces (the tus protocol): a connection that breaks is taken up again where it broke. What has arrived
 * stays in a folder of its own until it is whole; only then does it become a log.
 */
import { FileStore } from '@tus/file-store';
import { MemoryLocker, Metadata, Server, type Upload } from '@tus/server';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { layoutHintSchema } from '$core/logfile/layout-hint.ts';
import type { App } from '$lib/server/context.ts';
import { adopt, MAX_LOG_BYTES } from '$lib/server/storage/files.ts';
import {
	isFull,
	isOverShare,
	isReserved,
	NO_ROOM,
	refuseWithoutRoom,
	release,
	reserve
} from '$lib/server/storage/disk-space.ts';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { conditionsFromFields } from '$lib/server/logs/log-conditions.ts';
import { confirmInstalled } from '$lib/server/revisions/revision-events.ts';
import { currentRevision, revision } from '$lib/server/revisions/revisions.ts';
import { addLog, type LogWords, type Received } from './receive.ts';

/** How long the pieces of an unfinished file are kept. */
const KEEP_MS = 7 * 86_400_000;

const locker = new MemoryLocker();

/** Its folder is made before it begins, and here: the package makes it in the background, and a fault there ends the server. */
class UploadStore extends FileStore {}
Object.defineProperty(UploadStore.prototype, 'checkOrCreateDirectory', {
	value(this: FileStore) {
		mkdirSync(this.directory, { recursive: true });
	}
});

const storeOf = (dataDir: string): FileStore =>
	new UploadStore({ directory: join(dataDir, 'uploads'), expirationPeriodInMilliseconds: KEEP_MS });

const answer = z.string().max(500);
/** What a customer says with a log. Untrusted: kept as text, shown as text. */
const metadataSchema = z.object({
	name: z.string().max(300).default('log.csv'),
	kind: z.enum(['drive', 'problem']).default('drive'),
	words: z.string().max(4000).default(''),
	layout: z
		.string()
		.max(1000)
		.optional()
		.transform((text, context) => {
			if (text === undefined) return null;
			try {
				return layoutHintSchema.parse(JSON.parse(text));
			} catch {
				context.addIssue({ code: 'custom', message: 'the layout of the file is none' });
				return z.NEVER;
			}
		}),
	/** The day, and where its sensors sat: fields as of the form, checked against the vehicle when the upload begins. */
	conditions: z
		.string()
		.max(2000)
		.default('{}')
		.transform((text, context): Record<string, string> => {
			try {
				return z.record(z.string().max(40), z.string().max(40)).parse(JSON.parse(text));
			} catch {
				context.addIssue({ code: 'custom', message: 'what was said of the day is no list of texts' });
				return z.NEVER;
			}
		}),
	/** The revision that it was made with. */
	revision: z.coerce.number().int().positive().optional(),
	momentS: z.coerce.number().min(0).max(1e7).optional(),
	answers: z
		.string()
		.max(4000)
		.default('{}')
		.transform((text, context): Record<string, string> => {
			try {
				return z.record(z.string().max(40), answer).parse(JSON.parse(text));
			} catch {
				context.addIssue({ code: 'custom', message: 'the answers are no list of texts' });
				return z.NEVER;
			}
		})
});

type Said = Omit<LogWords, 'conditions'> & { name: string; conditions: Record<string, string> };

function wordsOf(metadata: Record<string, string | null> | undefined): Said {
	const known = Object.entries(metadata ?? {}).filter(([, v]) => v !== null && v !== '');
	const parsed = metadataSchema.safeParse(Object.fromEntries(known));
	if (!parsed.success) throw new InputError('what was sent with the file could not be read');
	const { revision, ...said } = parsed.data;
	return { ...said, momentS: said.momentS ?? null, revisionId: revision ?? null };
}

/** Answers a request of the protocol for one job. `path` is the address that the pieces go to. */
export async function handleUpload(
	app: App,
	request: Request,
	path: string,
	jobId: number,
	sentBy: 'tuner' | 'customer'
): Promise<Response> {
	const store = storeOf(app.dataDir);
	const owner = `${sentBy} ${jobId}`;
	const place = `${app.dataDir} ${owner} `;
	const checked = async (metadata: Upload['metadata']) =>
		conditionsFromFields(wordsOf(metadata).conditions, (await jobView(app.db, jobId))!.vehicle);
	const server = new Server({
		path,
		datastore: store,
		locker,
		maxSize: MAX_LOG_BYTES,
		relativeLocation: true,
		disableTerminationForFinishedUploads: true,
		async onUploadCreate(_request, upload) {
			await checked(upload.metadata);
			if (sentBy === 'customer' && (await isOverShare(app.dataDir, place, upload.size ?? 0)))
				throw new InputError(
					'there is no room for one more beside the files that are on their way: wait until one has arrived, then send the next'
				);
			await refuseWithoutRoom(app.dataDir, upload.size ?? 0);
			reserve(place + upload.id, upload.size ?? 0);
			return { metadata: { ...upload.metadata, owner } };
		},
		async onIncomingRequest(request, id) {
			// The pieces belong to the job that they were begun for; for anybody else they aren't there.
			const upload = await store.getUpload(id).catch(() => null);
			if (upload && upload.metadata?.['owner'] !== owner) throw { status_code: 404, body: 'not found' };
			if (!upload) return;
			// What is said with the last piece is what counts: it may have been corrected since the file was begun.
			const said = request.headers.get('upload-metadata');
			if (said) {
				upload.metadata = { ...metadataIn(said), owner };
				await checked(upload.metadata);
				await store.configstore.set(id, upload);
			}
			const { size = 0, offset } = upload;
			if (request.method === 'PATCH') {
				// Room is kept while a file moves; one that stood still long has to find it again.
				if (!isReserved(place + id)) await refuseWithoutRoom(app.dataDir, size - offset);
				reserve(place + id, size, offset);
			}
			if (request.method === 'DELETE') release(place + id);
			// All of it had arrived when the server stopped: whoever asks after it finds it a log.
			if (request.method === 'HEAD' && offset === size) await become(app, store, upload, jobId, sentBy);
		},
		async onUploadFinish(_request, upload) {
			try {
				const log = await become(app, store, upload, jobId, sentBy);
				return {
					status_code: 200,
					headers: { 'content-type': 'application/json' },
					body: JSON.stringify(log)
				};
			} catch (e) {
				if (e instanceof InputError) throw { status_code: 400, body: JSON.stringify({ message: e.message }) };
				throw e;
			} finally {
				release(place + upload.id);
			}
		},
		onResponseError(_request, e) {
			if (e instanceof InputError) return { status_code: 400, body: JSON.stringify({ message: e.message }) };
			if (e instanceof Error) app.logger.error({ err: e, jobId }, 'an upload failed');
			if (isFull(e)) return { status_code: 507, body: JSON.stringify({ message: NO_ROOM }) };
			return undefined;
		}
	});
	const response = await server.handleWeb(request as never);
	// The protocol's package opens itself to every origin; ours is served to none but its own.
	for (const name of [...response.headers.keys()])
		if (name.startsWith('access-control-')) response.headers.delete(name);
	return response;
}

/** @throws InputError where the header is none of the protocol's */
function metadataIn(header: string): Record<string, string | null> {
	try {
		return Metadata.parse(header);
	} catch {
		throw new InputError('what was sent with the file could not be read');
	}
}

/** Makes a log of pieces that are all there. Doing it twice makes one: the same bytes in a job are one log. */
async function become(
	app: App,
	store: FileStore,
	upload: Pick<Upload, 'id' | 'metadata'>,
	jobId: number,
	sentBy: 'tuner' | 'customer'
): Promise<Received> {
	const { name, conditions, ...words } = wordsOf(upload.metadata ?? undefined);
	const job = await jobView(app.db, jobId);
	if (!job) throw new InputError('the job that this file was for is gone');
	const { vehicle } = job;
	const file = await adopt(app.dataDir, join(store.directory, upload.id), MAX_LOG_BYTES);
	const log = await addLog(app, jobId, name, file, sentBy, {
		words: { ...words, conditions: conditionsFromFields(conditions, vehicle) }
	});
	// Who says that a log was made with a revision says that it is in the car.
	const made = sentBy === 'customer' && words.revisionId ? await revision(app.db, words.revisionId) : null;
	if (made?.state === 'released' && made.id === (await currentRevision(app.db, jobId)).id)
		await confirmInstalled(app.db, made, (await jobView(app.db, jobId))!.customer);
	// Last: whatever stops this before, the file is found whole at the next start and becomes the same log.
	await store.remove(upload.id);
	return log;
}

/** Files whose last byte arrived just before a stop become logs. */
export async function completeUploads(app: App): Promise<void> {
	const store = storeOf(app.dataDir);
	for (const id of (await store.configstore.list?.()) ?? []) {
		try {
			const upload = await store.getUpload(id);
			if (upload.size === undefined || upload.offset !== upload.size) continue;
			const [sentBy, job] = (upload.metadata?.['owner'] ?? '').split(' ');
			if (sentBy !== 'tuner' && sentBy !== 'customer') continue;
			await become(app, store, upload, Number(job), sentBy);
		} catch (e) {
			app.logger.warn({ err: e, upload: id }, 'a file that had arrived could not be taken over');
		}
	}
}

/** Whom the pieces of an upload belong to; `null` where that can't be told. */
function jobOf(owner: string | null | undefined): number | null {
	const [, job] = /^(?:tuner|customer) (\d+)$/.exec(owner ?? '') ?? [];
	return job === undefined ? null : Number(job);
}

/** Takes away pieces by the job that they were sent to. @returns how many uploads that were */
async function dropUploads(dataDir: string, drops: (jobId: number | null) => boolean): Promise<number> {
	const store = storeOf(dataDir);
	let count = 0;
	for (const id of (await store.configstore.list?.()) ?? []) {
		const upload = await store.configstore.get(id).catch(() => undefined);
		if (!upload || !drops(jobOf(upload.metadata?.['owner']))) continue;
		release(`${dataDir} ${upload.metadata?.['owner']} ${id}`);
		// One of its two files may be gone already.
		await store.remove(id).catch(() => store.configstore.delete(id));
		count++;
	}
	return count;
}

/** Takes away what is on its way to these jobs. */
export const dropUploadsOf = (dataDir: string, jobIds: readonly number[]): Promise<number> =>
	dropUploads(dataDir, (job) => job !== null && jobIds.includes(job));

/** Takes away what is on its way to jobs that are gone. */
export async function dropUploadsWithoutJob(db: App['db'], dataDir: string): Promise<number> {
	const jobs = new Set((await db.selectFrom('jobs').select('id').execute()).map((j) => j.id));
	return dropUploads(dataDir, (job) => job === null || !jobs.has(job));
}

/** Throws away what nobody went on sending. */
export async function clearUploads(dataDir: string): Promise<void> {
	await storeOf(dataDir).deleteExpired();
}
