/** How much a request may send, decided before anything of it is read. */
import { error } from '@sveltejs/kit';
import { MAX_PHOTO_BYTES } from '$lib/server/jobs/inspection.ts';

const KB = 1024;
const MB = 1 << 20;

/** By route: files stream and are limited where they are received; everything else is taken into memory and has to stay small. */
const LIMITS: readonly { route: RegExp; action?: string; bytes: number }[] = [
	{
		route:
			/^\/c\/\[token\]\/uploads|^\/api\/v1\/jobs\/\[job\]\/(uploads|logs)|^\/api\/v1\/archives$|^\/api\/v1\/layouts\/\[layout\]\/kit$|\/attachments$/,
		bytes: Infinity
	},
	// Photos of customers, wherever they are taken: announced and checked as one limit. No other form of theirs is long.
	{ route: /^\/c\/\[token\]\/(inspection|plugs)$/, action: '/photo', bytes: MAX_PHOTO_BYTES + MB },
	{ route: /^\/c(\/|$)/, bytes: 256 * KB },
	{ route: /^\/(sign-in|setup|join|forgotten|reset)(\/|$)/, bytes: 64 * KB }
];
/** Tuners' forms and documents: a calibration as a file is the largest of them. */
const SIGNED_IN = 32 * MB;
const STRANGER = 64 * KB;

/** @param query of the address: it names the action of a form */
export function limitOf(routeId: string | null, signedIn: boolean, query = new URLSearchParams()): number {
	const limit = LIMITS.find(
		({ route, action }) => route.test(routeId ?? '') && (action === undefined || query.has(action))
	);
	return limit?.bytes ?? (signedIn ? SIGNED_IN : STRANGER);
}

/** The request with a body that breaks off at its limit; answered with 413 at once where it says that it is longer. */
export function limited(request: Request, bytes: number): Request {
	if (!request.body || bytes === Infinity) return request;
	const said = Number(request.headers.get('content-length') ?? Number.NaN);
	if (said > bytes) error(413, tooLong(bytes));
	let seen = 0;
	const counted = request.body.pipeThrough(
		new TransformStream<Uint8Array, Uint8Array>({
			transform(chunk, controller) {
				seen += chunk.length;
				if (seen > bytes) controller.error(new BodyTooLong(bytes));
				else controller.enqueue(chunk);
			}
		})
	);
	return new Request(request, { body: counted, duplex: 'half' } as RequestInit);
}

export class BodyTooLong extends Error {
	constructor(bytes: number) {
		super(tooLong(bytes));
	}
}

const tooLong = (bytes: number) =>
	`That is more than is taken here: at most ${bytes >= MB ? `${Math.round(bytes / MB)} MB` : `${Math.round(bytes / KB)} kB`}.`;
