/** A photo out of a form of the customer's page. */
import { InputError } from '../../core/input-error.ts';
import type { App } from './context.ts';
import { jobOfLink } from './customer.ts';
import { field, orFail } from './http.ts';
import { addPhoto, MAX_PHOTO_BYTES, removePhoto } from './inspection.ts';

interface FromPhone {
	locals: { app: App };
	params: { token: string };
	getClientAddress: () => string;
	request: Request;
}

/** Keeps the photo of the form under its item. */
export async function takePhoto(event: FromPhone) {
	const jobId = await jobOfLink(event);
	// The whole form is read into memory: what is too large is refused before that.
	if (Number(event.request.headers.get('content-length') ?? MAX_PHOTO_BYTES + 1) > MAX_PHOTO_BYTES)
		return orFail(() =>
			Promise.reject<{ answered: string }>(
				new InputError(`the photo is larger than ${MAX_PHOTO_BYTES >> 20} MB`, 'Photo')
			)
		);
	const data = await event.request.formData();
	const item = field(data, 'item');
	return orFail(
		async () => {
			const photo = data.get('photo');
			if (!(photo instanceof File) || photo.size === 0) throw new InputError('choose a photo first', 'Photo');
			const { db, dataDir } = event.locals.app;
			await addPhoto(db, dataDir, jobId, item, new Uint8Array(await photo.arrayBuffer()));
			return { answered: item };
		},
		{ item }
	);
}

/** Takes the photo out that the form names. */
export async function dropPhoto(event: FromPhone): Promise<void> {
	const jobId = await jobOfLink(event);
	const { db, dataDir } = event.locals.app;
	await removePhoto(db, dataDir, jobId, Number(field(await event.request.formData(), 'id')));
}
