/** What the workshop as a whole has decided, by key. */
import { z } from 'zod';
import { ownPlanSchema, type OwnPlan } from '$core/planning/own-plan.ts';
import { DEFAULT_WAYS, waysSchema, type Ways } from '$core/revising/ways.ts';
import type { Db } from '$lib/server/db/open.ts';

type Workshop = { offersTables: boolean; ways: Ways; drivePlans: OwnPlan[] };

const WORKSHOP: { [K in keyof Workshop]: z.ZodType<Workshop[K]> } = {
	/** Whether a release offers the customer its tables in plain numbers, unless the tuner says otherwise. */
	offersTables: z.boolean(),
	/** Which school it follows where practitioners disagree. */
	ways: waysSchema,
	/** Drive plans that it keeps beside the templates; any tuner keeps one. */
	drivePlans: z.array(ownPlanSchema).max(60)
};

/** Where nobody has decided: what a workshop sells stays closed. */
const DEFAULTS: Workshop = { offersTables: false, ways: DEFAULT_WAYS, drivePlans: [] };

export async function workshopSetting<K extends keyof Workshop>(db: Db, key: K): Promise<Workshop[K]> {
	const row = await db.selectFrom('workshop').select('value').where('key', '=', key).executeTakeFirst();
	const parsed = WORKSHOP[key].safeParse(row ? JSON.parse(row.value) : undefined);
	return parsed.success ? parsed.data : DEFAULTS[key];
}

export async function saveWorkshopSetting<K extends keyof Workshop>(
	db: Db,
	key: K,
	value: Workshop[K]
): Promise<void> {
	const text = JSON.stringify(value);
	await db
		.insertInto('workshop')
		.values({ key, value: text })
		.onConflict((c) => c.column('key').doUpdateSet({ value: text }))
		.execute();
}
