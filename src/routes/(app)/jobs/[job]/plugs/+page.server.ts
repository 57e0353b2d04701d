import { redirect } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { parseWith } from '$core/parse';
import { plugsSchema } from '$core/plugs/document';
import { PLUG_FLAGS } from '$core/plugs/marks';
import { differences } from '$core/plugs/judge';
import { bankCount, cylindersByBank } from '$core/vehicle/facts';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { logsOf } from '$lib/server/logs/logs';
import { plugPhotosOf } from '$lib/server/jobs/inspection';
import { answerOf, proposePlugs } from '$lib/server/use-cases/answer-plugs';
import { keepPlugs, plugsOf } from '$lib/server/jobs/plug-readings';
import { currentRevision, revisionsOf } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals, url }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const records = await plugsOf(db, job.id);
	const wanted = Number(url.searchParams.get('reading'));
	const shown = records.find((r) => r.id === wanted) ?? records[0] ?? null;
	const before = shown && (records.find((r) => r.id < shown.id) ?? null);
	const frozen = (await revisionsOf(db, job.id)).filter((r) => r.state !== 'draft');
	const all = Array.from({ length: job.vehicle.engine.cylinders }, (_, i) => i + 1);
	return {
		banks: cylindersByBank(job.vehicle) ?? [all],
		twoBanks: bankCount(job.vehicle) === 2,
		photos: await plugPhotosOf(db, job.id),
		records: records.map(({ id, author, at }) => ({ id, author, at })),
		shown,
		answer: shown && (await answerOf(locals.app, shown)),
		/** What makes it no match for the reading before; `null` where there is none. */
		unlike: shown && before ? differences(before.plugs, shown.plugs) : null,
		revisions: frozen.map(({ id, number }) => ({ id, number })).reverse(),
		current: (await currentRevision(db, job.id)).id,
		logs: (await logsOf(db, job.id))
			.filter((l) => l.state === 'screened' && l.takenOut === null)
			.map(({ id, title, name }) => ({ id, title, name }))
			.reverse()
	};
};

/** The document as the sheet says it. @throws InputError naming the field */
function plugsFrom(data: FormData, cylinders: number) {
	const text = (name: string) => field(data, name).trim();
	const number = (name: string) => {
		const typed = text(name).replace(',', '.');
		if (typed === '') return undefined;
		if (!Number.isFinite(Number(typed))) throw new InputError(`a number was expected (found ${typed})`, name);
		return Number(typed);
	};
	const readings = Array.from({ length: cylinders }, (_, i) => i + 1).flatMap((cylinder) => {
		const flags = PLUG_FLAGS.filter((f) => text(`flag.${f}.${cylinder}`) === 'on');
		const reading = {
			cylinder,
			...(text(`plating.${cylinder}`) ? { plating: text(`plating.${cylinder}`) } : {}),
			...(text(`mark.${cylinder}`) ? { mark: text(`mark.${cylinder}`) } : {}),
			...(flags.length ? { flags } : {}),
			...(text(`note.${cylinder}`) ? { note: text(`note.${cylinder}`) } : {})
		};
		return Object.keys(reading).length > 1 ? [reading] : [];
	});
	if (readings.length === 0)
		throw new InputError('read at least one plug: its plating, its heat mark, or a flag');
	const heatRange = number('heatRange');
	const boostKpa = number('boostKpa');
	return parseWith(plugsSchema, {
		schema: 'tanto.plugs/1',
		...(heatRange === undefined ? {} : { heatRange, rangeCounts: text('rangeCounts') }),
		plated: text('plated') === 'on',
		newForSession: text('newForSession') === 'on',
		passes: number('passes') ?? 0,
		cutAfterPass: text('cutAfterPass') === 'on',
		...(text('fuel') ? { fuel: text('fuel') } : {}),
		...(boostKpa === undefined ? {} : { boostKpa }),
		readings
	});
}

export const actions: Actions = {
	read: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const result = await orFail(async () => {
			const plugs = plugsFrom(data, job.vehicle.engine.cylinders);
			const log = Number(field(data, 'log'));
			return keepPlugs(
				locals.app.db,
				job.id,
				plugs,
				{ revisionId: Number(field(data, 'revision')), logId: log || null },
				tunerOr401(locals).name
			);
		});
		if (typeof result !== 'number') return result;
		redirect(303, `/jobs/${job.id}/plugs?reading=${result}`);
	},
	propose: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const id = Number(field(await request.formData(), 'reading'));
		const result = await orFail(async () => {
			const record = (await plugsOf(locals.app.db, job.id)).find((r) => r.id === id);
			if (!record) throw new InputError('there is no such reading in this job');
			return proposePlugs(locals.app, job.id, record);
		});
		if (typeof result !== 'number') return result;
		redirect(303, `/jobs/${job.id}/revisions/${result}`);
	}
};
