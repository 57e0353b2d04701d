/** What a tuner set up for the own eyes, by key: kept with the account, on every machine the same. */
import { z } from 'zod';
import { CHANNELS } from '$core/channels/canonical.ts';
import { strategySchema } from '$core/correction/strategy.ts';
import type { Db } from '$lib/server/db/open.ts';

const channelId = z.string().refine((id) => CHANNELS.has(id), 'is no channel');

export const SETTINGS = {
	/** Channels of the lanes chosen by hand, in their order. */
	lanes: z.array(channelId).max(24),
	/** How proposals are made. */
	strategy: strategySchema
};

export type SettingKey = keyof typeof SETTINGS;
export type Setting<K extends SettingKey> = z.infer<(typeof SETTINGS)[K]>;

export function isSettingKey(key: string): key is SettingKey {
	return Object.hasOwn(SETTINGS, key);
}

export async function setting<K extends SettingKey>(
	db: Db,
	tunerId: string,
	key: K
): Promise<Setting<K> | null> {
	const row = await db
		.selectFrom('tuner_settings')
		.select('value')
		.where('user_id', '=', tunerId)
		.where('key', '=', key)
		.executeTakeFirst();
	if (!row) return null;
	const parsed = SETTINGS[key].safeParse(JSON.parse(row.value));
	return parsed.success ? (parsed.data as Setting<K>) : null;
}

export async function saveSetting<K extends SettingKey>(
	db: Db,
	tunerId: string,
	key: K,
	value: Setting<K>
): Promise<void> {
	const text = JSON.stringify(value);
	await db
		.insertInto('tuner_settings')
		.values({ user_id: tunerId, key, value: text })
		.onConflict((c) => c.columns(['user_id', 'key']).doUpdateSet({ value: text }))
		.execute();
}
