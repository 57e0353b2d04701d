/**
 * Other injectors are fitted: the sheet gets their data, the string an event, and the revision in force a draft that gives the engine the same
 * fuel as before. All of it or nothing.
 */
import { z } from 'zod';
import { titleOf } from '$core/calibration/items.ts';
import { findItem } from '$core/calibration/lookup.ts';
import { rescale, type Rescaled } from '$core/fuelling/rescale.ts';
import { InputError } from '$core/input-error.ts';
import { parseWith } from '$core/parse.ts';
import type { DraftChange } from '$core/revising/edit-schema.ts';
import { byHand } from '$core/revising/changes.ts';
import { sheetOf, vehicleFromSheet } from '$core/vehicle/sheet.ts';
import type { Vehicle } from '$core/vehicle/document.ts';
import type { App } from '$lib/server/context.ts';
import { insertHardware, withoutMeasured } from '$lib/server/jobs/hardware.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
import {
	currentRevision,
	insertDraft,
	revision,
	saveChanges,
	type Revision
} from '$lib/server/revisions/revisions.ts';
import { screenLogsOf } from './change-vehicle.ts';
import { storeVehicle } from '$lib/server/jobs/vehicles.ts';

/** Fields of the sheet that come with other injectors. */
export const INJECTOR_FIELDS = [
	'injectors.flowCcMin',
	'injectors.ratedPressureKpa',
	'injectors.testFluidKgL',
	'injectors.deadTimeMs'
] as const;

export interface InjectorPlan {
	/** Against the newest revision. */
	revision: number;
	/** What is changed, item by item: title, how many cells, an example. */
	changes: { title: string; cells: number; from: number; to: number; unit: string; reason: string }[];
	reset: string[];
	/** Titles of items that are a pulse or a pressure too: nobody knows whether they go with the injectors. */
	look: string[];
	effectiveFuelPct: Rescaled['effectiveFuelPct'];
}

interface Rescaling {
	vehicle: Vehicle;
	parent: Revision;
	rescaled: Rescaled;
}

async function rescaling(
	app: App,
	job: JobView,
	fields: Readonly<Record<string, string>>
): Promise<Rescaling> {
	if (!fields['injectors.flowCcMin']?.trim())
		throw new InputError('say what the new injectors flow', 'injectors.flowCcMin');
	const given = Object.fromEntries(INJECTOR_FIELDS.map((f) => [f, fields[f] ?? '']));
	const vehicle = vehicleFromSheet({ ...sheetOf(job.vehicle), ...given }, job.vehicle);
	const line = await currentRevision(app.db, job.id);
	const parent = (await revision(app.db, line.id))!;
	return { vehicle, parent, rescaled: rescale(parent.calibration, job.vehicle, vehicle) };
}

/** What fitting them would change. @throws InputError naming what is missing */
export async function planInjectors(
	app: App,
	job: JobView,
	fields: Readonly<Record<string, string>>
): Promise<InjectorPlan> {
	const { parent, rescaled } = await rescaling(app, job, fields);
	const title = (id: string) => titleOf(findItem(parent.calibration, id) ?? { id });
	return {
		revision: parent.number,
		changes: rescaled.changes.map((c) => {
			const item = findItem(parent.calibration, c.item);
			return {
				title: title(c.item),
				cells: c.cells.length,
				from: c.cells[0]!.from,
				to: c.cells[0]!.to,
				unit: item && item.kind !== 'setting' ? (item.unit ?? '') : '',
				reason: c.reason
			};
		}),
		reset: rescaled.reset,
		look: rescaled.look.map(title),
		effectiveFuelPct: rescaled.effectiveFuelPct
	};
}

const when = z.object({
	at: z.iso.datetime({ message: 'say when they were fitted' }),
	what: z.string().trim().max(300)
});

/**
 * @returns the draft that was made
 * @throws InputError where something is missing, or a draft is open
 */
export async function fitInjectors(
	app: App,
	job: JobView,
	author: string,
	fields: Readonly<Record<string, string>>,
	now = new Date()
): Promise<number> {
	const { at, what } = parseWith(when, { at: fields['at'], what: fields['what'] ?? '' });
	if (new Date(at) > now) throw new InputError('they were fitted in the future: say when it was done', 'at');
	const { vehicle, parent, rescaled } = await rescaling(app, job, fields);
	const changes = rescaled.changes.flatMap(({ item, cells, reason }): DraftChange[] =>
		cells.map(({ x, y, from, to }) => byHand(item, { x, y }, from, to, reason))
	);
	const said = what || `Other injectors: ${fields['injectors.flowCcMin']} cc/min`;
	const draft = await app.db.transaction().execute(async (trx) => {
		const id = await insertDraft(trx, parent, null, [], now);
		if (changes.length) await saveChanges(trx, (await revision(trx, id))!, changes);
		await insertHardware(trx, job.id, { what: said, at, author, injectors: true }, now);
		await storeVehicle(trx, job.vehicleId, withoutMeasured(vehicle));
		return id;
	});
	await screenLogsOf(app, job.vehicleId);
	return draft;
}
