/** A photo out of a form of the customer's page. */
import { InputError } from '$core/input-error.ts';
import type { App } from '$lib/server/context.ts';
import { jobOfLink } from './customer.ts';
import { customerFields, customerForm } from './customer-form.ts';
import { orFail } from './http.ts';
import { addPhoto, removePhoto } from '$lib/server/jobs/inspection.ts';

interface FromPhone {
	locals: { app: App };
	params: { token: string };
	getClientAddress: () => string;
	request: Request;
}

/** Keeps the photo of the form under its item. */
export async function takePhoto(event: FromPhone) {
	const jobId = await jobOfLink(event);
	const form = await orFail(() => customerForm(event.request));
	if (!('fields' in form)) return form;
	const item = form.fields.get('item') ?? '';
	return orFail(
		async () => {
			if (!form.file) throw new InputError('choose a photo first', 'Photo');
			const { db, dataDir } = event.locals.app;
			await addPhoto(db, dataDir, jobId, item, form.file);
			return { answered: item };
		},
		{ item }
	);
}

/** Takes the photo out that the form names. */
export async function dropPhoto(event: FromPhone): Promise<void> {
	const jobId = await jobOfLink(event);
	const { db, dataDir } = event.locals.app;
	const fields = await customerFields(event.request);
	await removePhoto(db, dataDir, jobId, Number(fields.get('id')));
}
