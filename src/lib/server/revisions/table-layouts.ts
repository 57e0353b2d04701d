/** Layouts of controllers' tables: kept for the workshop, found again by hardware and software. */
import { InputError } from '$core/input-error.ts';
import type { FuelModel } from '$core/calibration/document.ts';
import {
	parseLayout,
	starterLayout,
	type Layout,
	type ScalarLayout,
	type TableLayout
} from '$core/calibration/tables/layout.ts';
import type { Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';

export interface KeptLayout {
	id: number;
	layout: Layout;
	updatedAt: string;
}

const kept = (r: { id: number; document: string; updated_at: string }): KeptLayout => ({
	id: r.id,
	layout: parseLayout(JSON.parse(r.document)),
	updatedAt: r.updated_at
});

/** All of the workshop, the last used first. */
export async function keptLayouts(db: Db): Promise<KeptLayout[]> {
	return (
		await db
			.selectFrom('table_layouts')
			.selectAll()
			.orderBy('updated_at', 'desc')
			.orderBy('id', 'desc')
			.execute()
	).map(kept);
}

export async function keptLayout(db: Db, id: number): Promise<KeptLayout | null> {
	const row = await db.selectFrom('table_layouts').selectAll().where('id', '=', id).executeTakeFirst();
	return row ? kept(row) : null;
}

const columnsOf = (layout: Layout, now: Date) => ({
	name: layout.name,
	hardware: layout.controller?.hardware ?? '',
	software: layout.controller?.software ?? '',
	fuel_model: layout.fuelModel,
	document: JSON.stringify(layout),
	updated_at: now.toISOString()
});

export async function keepLayout(db: Db, layout: Layout, now = new Date()): Promise<number> {
	const { insertId } = await db
		.insertInto('table_layouts')
		.values(columnsOf(parseLayout(layout), now))
		.executeTakeFirstOrThrow();
	return Number(insertId);
}

export async function dropLayout(db: Db, id: number): Promise<void> {
	await db.updateTable('jobs').set({ layout_id: null }).where('layout_id', '=', id).execute();
	await db.deleteFrom('table_layouts').where('id', '=', id).execute();
}

/** For a near-identical controller: named as such, because a file for the wrong one must never go out. */
export async function copyLayout(
	db: Db,
	id: number,
	to: { name: string; hardware: string; software: string },
	now = new Date()
): Promise<number> {
	const from = await keptLayout(db, id);
	if (!from) throw new InputError('there is no such layout');
	const [name, hardware, software] = [to.name, to.hardware, to.software].map((t) => t.trim());
	if (!name || !hardware || !software)
		throw new InputError('a copy needs its own name, controller hardware and software');
	const same = from.layout.controller;
	if (same?.hardware === hardware && same.software === software)
		throw new InputError('that is the very same controller: a copy is for another one');
	return keepLayout(db, { ...from.layout, name, controller: { hardware, software } }, now);
}

/** The layout of a job: chosen, else that of its controller, else a starter of its fuel model. */
export async function layoutOfJob(
	db: Db,
	jobId: number,
	vehicle: Vehicle,
	fuelModel: FuelModel
): Promise<{ id: number | null; layout: Layout }> {
	const job = await db
		.selectFrom('jobs')
		.select('layout_id')
		.where('id', '=', jobId)
		.executeTakeFirstOrThrow();
	const chosen = job.layout_id === null ? null : await keptLayout(db, job.layout_id);
	if (chosen) return chosen;
	const { hardware = '', software = '' } = vehicle.controller ?? {};
	const known = hardware
		? await db
				.selectFrom('table_layouts')
				.selectAll()
				.where('hardware', '=', hardware)
				.where('software', '=', software)
				.where('fuel_model', '=', fuelModel)
				.orderBy('updated_at', 'desc')
				.executeTakeFirst()
		: undefined;
	if (known) return kept(known);
	const starter = starterLayout(fuelModel);
	return {
		id: null,
		layout: hardware
			? {
					...starter,
					name: [hardware, software].filter(Boolean).join(' '),
					controller: { hardware, software }
				}
			: starter
	};
}

export async function chooseLayout(db: Db, jobId: number, layoutId: number): Promise<void> {
	if (!(await keptLayout(db, layoutId))) throw new InputError('there is no such layout');
	await db.updateTable('jobs').set({ layout_id: layoutId }).where('id', '=', jobId).execute();
}

/** Writes down how a table or values were read, so that the next job with this controller knows it. */
export async function remember(
	db: Db,
	jobId: number,
	vehicle: Vehicle,
	fuelModel: FuelModel,
	learned: { tables?: readonly TableLayout[]; scalars?: readonly ScalarLayout[] },
	now = new Date()
): Promise<void> {
	const { id, layout } = await layoutOfJob(db, jobId, vehicle, fuelModel);
	const merged = <T extends { item: string }>(old: readonly T[], fresh: readonly T[] = []): T[] => [
		...old.map((e) => fresh.find((f) => f.item === e.item) ?? e),
		...fresh.filter((f) => !old.some((e) => e.item === f.item))
	];
	const next = {
		...layout,
		tables: merged(
			layout.tables,
			learned.tables?.map((t) => ({ ...t, said: true }))
		),
		scalars: merged(layout.scalars, learned.scalars)
	};
	if (id === null) await chooseLayout(db, jobId, await keepLayout(db, next, now));
	else {
		await db
			.updateTable('table_layouts')
			.set(columnsOf(parseLayout(next), now))
			.where('id', '=', id)
			.execute();
		await chooseLayout(db, jobId, id);
	}
}
