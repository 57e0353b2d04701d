/** A log as the body of a request, from tuner or customer alike. */
import { json } from '@sveltejs/kit';
import type { App } from '$lib/server/context.ts';
import { bodyOf, MAX_LOG_BYTES, receive } from '$lib/server/storage/files.ts';
import { orJson } from './http.ts';
import { addLog } from '$lib/server/use-cases/receive.ts';

export async function receiveLog(
	app: App,
	jobId: number,
	request: Request,
	name: string,
	sentBy: 'tuner' | 'customer'
): Promise<Response> {
	return orJson(async () => {
		const file = await receive(app.dataDir, bodyOf(request), MAX_LOG_BYTES);
		return json(await addLog(app, jobId, name || 'log.csv', file, sentBy), { status: 201 });
	});
}
