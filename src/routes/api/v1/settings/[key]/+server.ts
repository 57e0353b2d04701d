import type { z } from 'zod';
import { error, json } from '@sveltejs/kit';
import { parseWith } from '$core/parse';
import { orJson, tunerOr401 } from '$lib/server/http/http';
import {
	isSettingKey,
	saveSetting,
	SETTINGS,
	type Setting,
	type SettingKey
} from '$lib/server/jobs/settings';
import type { RequestHandler } from './$types';

/** Keeps a setting of the tuner who is signed in. */
export const PUT: RequestHandler = async ({ params, request, locals }) =>
	orJson(async () => {
		const tuner = tunerOr401(locals);
		const { key } = params;
		if (!isSettingKey(key)) error(404, 'There is no such setting.');
		const value = parseWith<Setting<SettingKey>>(
			SETTINGS[key] as z.ZodType<Setting<SettingKey>>,
			await request.json().catch(() => null)
		);
		await saveSetting(locals.app.db, tuner.id, key, value);
		return json({ saved: key });
	});
