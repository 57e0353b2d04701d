import { redirect } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { parseJson } from '$core/parse';
import { adviseGears } from '$core/planning/gears';
import { CHANNELS } from '$core/channels/canonical';
import { parseRequest } from '$core/request';
import { planForDrives, planFrom, TEMPLATES, type TemplateId } from '$core/planning/templates';
import { planFromOwn, withChannels } from '$core/planning/own-plan';
import { forgetPlan, keepPlan } from '$lib/server/use-cases/own-plans';
import { nextDriveSchema } from '$core/revising/proposal';
import { z } from 'zod';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { toCustomer } from '$lib/server/jobs/messages';
import { ask, currentRequest } from '$lib/server/jobs/drive-plans';
import { kitOfJob } from '$lib/server/revisions/recording-kits';
import type { Ways } from '$core/revising/ways';
import { workshopSetting } from '$lib/server/jobs/workshop';
import type { Actions, PageServerLoad } from './$types';

/** What a job's first log shows, by the workshop's way. */
const FIRST: Record<Ways['firstDrive'], TemplateId> = {
	'part-throttle': 'street-baseline',
	'full-throttle': 'full-throttle'
};

/** Drives that were designed from what is still open, out of the address; `null` without any that can be read. */
function drivesFrom(text: string | null) {
	if (!text) return null;
	try {
		const answer = z
			.array(nextDriveSchema.partial({ gainPct: true, cells: true, why: true }))
			.max(8)
			.safeParse(JSON.parse(text));
		return answer.success && answer.data.length ? answer.data : null;
	} catch {
		return null;
	}
}

export const load: PageServerLoad = async ({ params, locals, url }) => {
	const job = await jobOr404(locals.app, params.job);
	const current = await currentRequest(locals.app.db, job.id);
	const kit = await kitOfJob(locals.app.db, job);
	const ways = await workshopSetting(locals.app.db, 'ways');
	const wanted = url.searchParams.get('template');
	const template = TEMPLATES.find((t) => t.id === wanted)?.id ?? null;
	const typed = Number((url.searchParams.get('cap') ?? '').replace(',', '.'));
	const cap = typed > 0 && typed < 500 ? typed : null;
	const advice = adviseGears(job.vehicle, cap);
	const gears = (url.searchParams.get('gears') ?? '')
		.split(',')
		.map(Number)
		.filter((g) => advice.lines.some((l) => l.gear === g));
	const added = (url.searchParams.get('add') ?? '').split(',').filter((id) => CHANNELS.has(id));
	const drives = drivesFrom(url.searchParams.get('drives'));
	const ownPlans = await workshopSetting(locals.app.db, 'drivePlans');
	const own = ownPlans.find((p) => p.name === url.searchParams.get('own')) ?? null;
	const shown = drives || own ? null : (template ?? (current ? null : FIRST[ways.firstDrive]));
	const options = { speedCapKmh: cap, ...(gears.length ? { gears } : {}) };
	return {
		templates: TEMPLATES,
		template: shown,
		ownPlans: ownPlans.map(({ name, steps }) => ({ name, steps: steps.length })),
		own: own?.name ?? null,
		/** Of the kept plans what joins another one. */
		joins: Object.fromEntries(ownPlans.map((p) => [p.name, planFromOwn(p, job.vehicle, options)])),
		/** Chosen by the workshop's way, and by nobody here. */
		kit: { steps: kit.steps.length, files: kit.files.length, layoutId: kit.layoutId },
		byWay: !drives && !own && template === null && current === null,
		cap,
		advice,
		gears,
		current,
		added: added.length,
		plan: withChannels(
			shown
				? planFrom(shown, job.vehicle, options)
				: own
					? planFromOwn(own, job.vehicle, options)
					: drives
						? planForDrives(drives, job.vehicle, options)
						: current!.plan,
			added,
			'a check waits for it'
		)
	};
};

export const actions: Actions = {
	ask: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const words = field(data, 'words');
		const result = await orFail(
			async () => {
				const plan = parseRequest(parseJson(field(data, 'plan')));
				if (!plan.manoeuvres?.length) throw new InputError('a drive plan needs something to drive');
				await ask(locals.app.db, job.id, field(data, 'template'), plan);
				const body = [
					words || 'Please make a log.',
					`What to drive and what to record stands on your page: ${plan.title ?? 'the drive plan'}.`
				].join('\n\n');
				await toCustomer(locals.app, job, tunerOr401(locals).name, body, {
					subject: `${job.title}: a log, please`
				});
				return true;
			},
			{ words }
		);
		if (result !== true) return result;
		redirect(303, `/jobs/${job.id}`);
	},
	/** Keeps the plan as it stands for other vehicles. */
	keep: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const cap = Number(field(data, 'cap'));
		const gears = field(data, 'gears').split(',').map(Number).filter(Boolean);
		return orFail(
			async () => {
				const plan = parseRequest(parseJson(field(data, 'plan')));
				const options = { speedCapKmh: cap > 0 ? cap : null, ...(gears.length ? { gears } : {}) };
				return { kept: await keepPlan(locals.app.db, field(data, 'name'), plan, job.vehicle, options) };
			},
			{ name: field(data, 'name') }
		);
	},
	forget: async ({ request, locals }) => {
		const name = field(await request.formData(), 'name');
		return orFail(async () => {
			await forgetPlan(locals.app.db, name);
			return { forgotten: name };
		});
	}
};
