/** A log as the body of a request, from tuner or customer alike. */
import { json } from '@sveltejs/kit';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { InputError } from '../../core/input-error.ts';
import type { App } from './app.ts';
import { MAX_LOG_BYTES, receive } from './files.ts';
import { orJson } from './http.ts';
import { addLog } from './logs.ts';

export async function receiveLog(
	app: App,
	jobId: number,
	request: Request,
	name: string,
	sentBy: 'tuner' | 'customer'
): Promise<Response> {
	return orJson(async () => {
		if (!request.body) throw new InputError('the file is empty');
		const file = await receive(app.dataDir, request.body as unknown as NodeStream<Uint8Array>, MAX_LOG_BYTES);
		return json(await addLog(app, jobId, name || 'log.csv', file, sentBy), { status: 201 });
	});
}
