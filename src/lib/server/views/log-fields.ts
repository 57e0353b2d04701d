/** The field of each log: what its cells want, all together, with how sure that is. Worked out once per screening. */
import type { LogFields } from '$core/correction/grid-field.ts';
import type { App } from '$lib/server/context.ts';

/** Fields of a log, kept until it is screened anew; `null` where it says nothing. */
export async function fieldsOf(
	app: Pick<App, 'db' | 'dataDir' | 'pool'>,
	logId: number
): Promise<LogFields | null> {
	const { db } = app;
	const newest = await db
		.selectFrom('screenings')
		.select(({ fn }) => fn.max('id').as('id'))
		.where('log_id', '=', logId)
		.executeTakeFirst();
	if (!newest?.id) return null;
	const kept = await db.selectFrom('log_fields').selectAll().where('log_id', '=', logId).executeTakeFirst();
	if (kept?.screening_id === newest.id) return JSON.parse(kept.result) as LogFields;
	const answer = await app.pool.run('fields', { dataDir: app.dataDir, logId });
	if (!answer.ok) return null;
	const row = { screening_id: newest.id, result: JSON.stringify(answer.fields) };
	await db
		.insertInto('log_fields')
		.values({ log_id: logId, ...row })
		.onConflict((c) => c.column('log_id').doUpdateSet(row))
		.execute();
	return answer.fields;
}
