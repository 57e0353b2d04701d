import { error } from '@sveltejs/kit';
import { CHANNELS } from '$core/channels/canonical';
import { InputError } from '$core/input-error';
import { PULLED_WHERE } from '$core/logfile/knock-sign';
import { UNITS } from '$core/units/units';
import { field, jobOr404, logOr404, orFail } from '$lib/server/http/http';
import { readingsOf } from '$lib/server/logs/log-store';
import { screeningOf } from '$lib/server/logs/logs';
import { assignColumn } from '$lib/server/use-cases/read-again';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const log = await logOr404(locals.app, job.id, params.log);
	const screening = await screeningOf(db, log.id);
	if (!screening) error(404, 'This log has not been read yet.');
	const rows = await readingsOf(db, log.id);
	return {
		log,
		rows,
		unmapped: screening.unmapped,
		kinds: [...CHANNELS.values()]
			.filter((k) => k.id !== 'time')
			.map((k) => ({ id: k.id, title: k.title, quantity: k.quantity })),
		units: UNITS.map((u) => ({
			id: u.id,
			quantity: u.quantity,
			/** Answers to the sign of a knock channel are units of nothing else. */
			only: (Object.values(PULLED_WHERE) as string[]).includes(u.id) ? 'knockRetard' : ''
		}))
	};
};

export const actions: Actions = {
	assign: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const data = await request.formData();
		return orFail(async () => {
			const name = field(data, 'name');
			const channel = field(data, 'channel');
			const unit = field(data, 'unit');
			if (!name) throw new InputError('no column was named');
			if (channel && !CHANNELS.has(channel)) throw new InputError(`"${channel}" is not a channel`);
			if (unit && !UNITS.some((u) => u.id === unit)) throw new InputError(`"${unit}" is not a unit`);
			if (channel && unit && UNITS.find((u) => u.id === unit)?.quantity !== CHANNELS.get(channel)!.quantity)
				throw new InputError(`${CHANNELS.get(channel)!.title} can't be measured in ${unit}`);
			await assignColumn(
				locals.app,
				log,
				job.customerId,
				{ name, unit: field(data, 'rawUnit') },
				{ channel: channel || null, unit: unit || null }
			);
			return { assigned: name };
		});
	}
};
