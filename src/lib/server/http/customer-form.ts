/**
 * Forms of customers' pages. Whoever holds a link may send one: it is read as it streams in and broken off at the first part too many, so that no
 * form of any shape keeps the server busy.
 */
import { Busboy } from '@fastify/busboy';
import { error } from '@sveltejs/kit';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { InputError } from '$core/input-error.ts';
import { MAX_PHOTO_BYTES } from '$lib/server/jobs/inspection.ts';

/** More than any form of these pages has, and far less than costs anything. */
const MOST_PARTS = 50;
const MOST_FIELD_BYTES = 64 << 10;
const MOST_NAME_BYTES = 100;

export interface CustomerForm {
	fields: ReadonlyMap<string, string>;
	/** The file that came with it, whole; `null` without one or an empty one. */
	file: Uint8Array | null;
}

/** @throws InputError on a form of more parts, a longer field or a larger file than these pages send, or on none at all */
export async function customerForm(request: Request): Promise<CustomerForm> {
	const type = request.headers.get('content-type') ?? '';
	if (!request.body || !/^(multipart\/form-data|application\/x-www-form-urlencoded)\b/i.test(type))
		throw new InputError('this is no form');
	const fields = new Map<string, string>();
	const chunks: Uint8Array[] = [];
	const source = Readable.fromWeb(request.body as unknown as ReadableStream);
	try {
		await new Promise<void>((resolve, reject) => {
			const refuse = (why: string) => () => reject(new InputError(why));
			const parser = new Busboy({
				headers: { 'content-type': type },
				limits: {
					parts: MOST_PARTS,
					fields: MOST_PARTS + 1,
					files: 1,
					fieldNameSize: MOST_NAME_BYTES,
					fieldSize: MOST_FIELD_BYTES,
					fileSize: MAX_PHOTO_BYTES,
					headerPairs: 10
				}
			});
			const tooMany = refuse('the form has more parts than the page asks for');
			parser.on('partsLimit', tooMany).on('fieldsLimit', tooMany).on('filesLimit', tooMany);
			let seen = 0;
			parser.on('field', (name, value, nameCut, valueCut) => {
				// The parser tells of the limit only with more bytes after it.
				if (++seen > MOST_PARTS) tooMany();
				else if (nameCut || valueCut) reject(new InputError(`“${name}” is longer than is taken here`));
				else fields.set(name, value.trim());
			});
			parser.on('file', (_name, stream) => {
				stream.on('data', (chunk: Uint8Array) => chunks.push(chunk));
				stream.on('limit', refuse(`the photo is larger than ${MAX_PHOTO_BYTES >> 20} MB`));
			});
			parser.on('error', () => reject(new InputError('the form broke off, or is none')));
			parser.on('finish', resolve);
			source.on('error', reject).pipe(parser);
		});
	} finally {
		// What is left of a form that was refused runs by unread, so that the answer arrives; its length has a limit of its own.
		source.unpipe();
		source.resume();
	}
	const file = Buffer.concat(chunks);
	return { fields, file: file.length ? file : null };
}

/** The fields of a form without a file; one that no page sends is refused as a whole. */
export async function customerFields(request: Request): Promise<CustomerForm['fields']> {
	try {
		return (await customerForm(request)).fields;
	} catch (e) {
		if (e instanceof InputError) error(400, e.message);
		throw e;
	}
}
