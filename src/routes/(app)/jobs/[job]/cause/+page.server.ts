import { InputError } from '$core/input-error';
import { parseWith } from '$core/parse';
import { checkOf } from '$core/screening/codes';
import { findingKey } from '$core/screening/types';
import { swapSchema } from '$core/swaps/document';
import { swapPlan, workOf } from '$core/swaps/plan';
import { possibleSwaps, refuseImpossibleSwap } from '$core/swaps/possible';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { logsOf, screeningOf } from '$lib/server/logs/logs';
import { mailProblem, writeToCustomer } from '$lib/server/jobs/messages';
import { ask } from '$lib/server/jobs/drive-plans';
import { beginSwap, dropSwap, standingFor, subjectOf, swapsOf } from '$lib/server/jobs/swap-tests';
import { bindLog } from '$lib/server/use-cases/answer-swap';
import { startLog } from '$lib/server/use-cases/screen';
import type { Actions, PageServerLoad } from './$types';

const SEEKS = new Set(['stop', 'fix', 'watch']);

export const load: PageServerLoad = async ({ params, locals, url }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const logs = (await logsOf(db, job.id)).filter((l) => l.state === 'screened' && l.takenOut === null);
	const newest = logs.at(-1);
	const report = newest ? (await screeningOf(db, newest.id))?.report : null;
	const tests = await swapsOf(db, job.id);
	const possible = possibleSwaps(job.vehicle);
	const found = (report?.findings ?? [])
		.filter((f) => SEEKS.has(f.severity) && checkOf(f.code)?.swaps)
		.map((f) => ({
			key: findingKey(f),
			title: f.said?.title ?? f.title,
			severity: f.severity,
			swaps: checkOf(f.code)!.swaps!.filter((kind) => possible.includes(kind)),
			cylinder: f.cylinder ?? null
		}));
	// One of a kind: the worst finding of a check stands for its difference.
	const subjects = found.filter(
		(f, i) => found.findIndex((o) => subjectOf(o.key) === subjectOf(f.key)) === i
	);
	const gone = [...new Set(tests.map((t) => subjectOf(t.finding)))].filter(
		(code) => !subjects.some((s) => subjectOf(s.key) === code)
	);
	return {
		/** Differences that are looked into: of the newest log, and those that a test was begun for before. */
		subjects: [
			...subjects,
			...gone.map((code) => ({
				key: code,
				title: code ? `${checkOf(code)?.title ?? code}: no longer in the newest log` : 'Without a finding',
				severity: 'clear' as const,
				swaps: [...possible],
				cylinder: null
			}))
		].map((s) => ({ ...s, standing: standingFor(tests, s.key, possible) })),
		possible: [...possible],
		tests: tests.toReversed(),
		logs: logs.map(({ id, title, name }) => ({ id, title, name })).reverse(),
		cylinders: job.vehicle.engine.cylinders,
		wanted:
			subjects.find((s) => subjectOf(s.key) === subjectOf(url.searchParams.get('finding') ?? ''))?.key ?? null
	};
};

/** The document as the form says it. @throws InputError naming the field */
function swapFrom(data: FormData) {
	const kind = field(data, 'kind');
	const text = (name: string) => field(data, name).trim();
	const cylinder = (name: string) => Number(text(name));
	return parseWith(swapSchema, {
		schema: 'tanto.swap/1',
		kind,
		...(text('what') ? { what: text('what') } : {}),
		...(kind === 'lambda-side-to-side' ? { labels: text('labels') } : {}),
		...(kind === 'lambda-moved' ? { from: text('from') } : {}),
		...(kind === 'between-cylinders' ? { cylinders: [cylinder('first'), cylinder('second')] } : {})
	});
}

export const actions: Actions = {
	begin: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		return orFail(
			async () => {
				const { db } = locals.app;
				const swap = swapFrom(data);
				refuseImpossibleSwap(swap.kind, job.vehicle);
				const before = Number(field(data, 'before'));
				const me = tunerOr401(locals).name;
				if (!before) throw new InputError('choose the log that shows the difference', 'before');
				const send = field(data, 'send') === 'on';
				const { mailer } = locals.app;
				const words = `${workOf(swap)}\n\nThen please log as on your page: what the difference moves with tells what causes it.`;
				// All of it or none: a test that is refused leaves the customer's plan as it is.
				await db.transaction().execute(async (trx) => {
					const requestId = send
						? await ask(trx, job.id, 'bank-swap', swapPlan(swap, job.vehicle, { speedCapKmh: null }))
						: null;
					await beginSwap(trx, job.id, swap, { finding: field(data, 'finding'), before, requestId }, me);
					if (send)
						await writeToCustomer(trx, mailer, job, me, words, { subject: `${job.title}: a test, please` });
				});
				mailer.wake();
				return { begun: true, notMailed: send ? mailProblem(mailer, job) : null };
			},
			{ kind: field(data, 'kind'), what: field(data, 'what') }
		);
	},
	bind: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		return orFail(async () => {
			const which = field(data, 'which') === 'back' ? 'back' : 'after';
			const logId = Number(field(data, 'log'));
			if (await bindLog(locals.app, job.id, Number(field(data, 'test')), which, logId))
				startLog(locals.app, logId);
			return { bound: true };
		});
	},
	drop: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const id = Number(field(await request.formData(), 'test'));
		return orFail(async () => {
			await dropSwap(locals.app.db, job.id, id);
			return { dropped: true };
		});
	}
};
