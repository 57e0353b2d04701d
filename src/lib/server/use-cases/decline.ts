/** A log won't do: the customer is told why, and what to drive instead. */
import { InputError } from '$core/input-error.ts';
import { planFrom, TEMPLATES } from '$core/planning/templates.ts';
import type { App } from '$lib/server/context.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
import { markDeclined, type LogLine } from '$lib/server/logs/logs.ts';
import { writeToCustomer } from '$lib/server/jobs/messages.ts';
import { ask } from '$lib/server/jobs/drive-plans.ts';

/**
 * @param templateId the drive plan that is asked for instead; anything else for none
 * @throws InputError without words
 */
export async function decline(
	{ db, mailer }: Pick<App, 'db' | 'mailer'>,
	job: JobView,
	log: Pick<LogLine, 'id'>,
	author: string,
	body: string,
	templateId: string
): Promise<void> {
	if (body.trim() === '') throw new InputError('say what was wrong with it');
	const template = TEMPLATES.find((t) => t.id === templateId);
	await db.transaction().execute(async (trx) => {
		if (template)
			await ask(trx, job.id, template.id, planFrom(template.id, job.vehicle, { speedCapKmh: null }));
		await markDeclined(trx, log.id);
		await writeToCustomer(trx, mailer, job, author, body, {
			logId: log.id,
			subject: `${job.title}: another log, please`
		});
	});
	mailer.wake();
}
