import { axisUnit } from '$core/calibration/axes';
import type { Calibration } from '$core/calibration/document';
import { titleOf } from '$core/calibration/items';
import { nodesOf } from '$core/correction/nodes';
import { changeHardware } from '$lib/server/use-cases/change-hardware';
import { evidenceOf, leaveOut, MOST_LOGS } from '$lib/server/logs/log-selection';
import { hardwareOf } from '$lib/server/jobs/hardware';
import { field, jobOr404, logOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { currentRevision, revision } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

function loadUnitOf(calibration: Calibration): string {
	const axis = nodesOf(calibration).tables[0]?.y;
	return axis ? axisUnit(axis) : '';
}

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const line = await currentRevision(db, job.id);
	const { calibration } = (await revision(db, line.id))!;
	return {
		lines: await evidenceOf(db, job.id),
		hardware: await hardwareOf(db, job.id),
		revision: { id: line.id, number: line.number },
		most: MOST_LOGS,
		titles: Object.fromEntries(calibration.items.map((i) => [i.id, titleOf(i)])),
		/** Unit of the fuel table's load, where a reader has one of their own for it. */
		loadUnit: loadUnitOf(calibration)
	};
};

export const actions: Actions = {
	hardware: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const entered = { what: field(data, 'what'), at: field(data, 'at') };
		const injectors = data.get('injectors') !== null;
		return orFail(async () => {
			await changeHardware(locals.app, job, tunerOr401(locals).name, { ...entered, injectors });
			return { changed: true };
		}, entered);
	},
	leaveOut: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const log = await logOr404(locals.app, job.id, field(data, 'log'));
		return orFail(async () => {
			await leaveOut(locals.app.db, log, tunerOr401(locals).name, field(data, 'reason'));
			return { leftOut: true };
		});
	}
};
