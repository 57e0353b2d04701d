import { findItem } from '$core/calibration/lookup';
import { titleOf } from '$core/calibration/items';
import { asHeld, scalarLine, tableText } from '$core/calibration/tables/write';
import { asItStands, type TableLayout } from '$core/calibration/tables/layout';
import { InputError } from '$core/input-error';
import { attachmentsOf } from '$lib/server/revisions/attachments';
import { field, jobOr404, orFail, revisionOr404, tunerOr401 } from '$lib/server/http/http';
import { revision, saveChanges, type Revision } from '$lib/server/revisions/revisions';
import { layoutOfJob } from '$lib/server/revisions/table-layouts';
import { carryLines, proveTable, tableProofsOf, takeFound } from '$lib/server/revisions/table-proofs';
import type { Actions, PageServerLoad } from './$types';

/** How an item is written where the layout doesn't know it: as it stands in the revision. */
function entryOf(rev: Revision, tables: readonly TableLayout[], id: string): TableLayout | null {
	const known = tables.find((t) => t.item === id);
	const item = findItem(rev.calibration, id);
	if (item?.kind !== 'map' && item?.kind !== 'curve') return null;
	return known ?? asItStands(item);
}

/** Cells that the program's decimals can't hold. */
function finer(rev: Revision, entry: TableLayout): number {
	const item = findItem(rev.calibration, entry.item);
	if (item?.kind !== 'map' && item?.kind !== 'curve') return 0;
	const held = asHeld(item, entry);
	const flat = (i: typeof item) => (i.kind === 'map' ? i.values.flat() : i.values);
	const own = flat(item);
	return flat(held).filter((v, i) => v !== own[i]).length;
}

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const rev = await revisionOr404(locals.app, job.id, params.rev);
	const parent = rev.parentId === null ? null : await revision(db, rev.parentId);
	const { layout } = await layoutOfJob(db, job.id, job.vehicle, rev.calibration.fuelModel);
	// A first release is proved as a whole: nothing of it was ever held against the file.
	const base = parent?.state === 'released' ? parent.calibration : null;
	const lines = carryLines(base, rev.calibration, layout);
	const differs = new Set(
		parent
			? carryLines(parent.calibration, rev.calibration, layout).flatMap((l) => (l.changed ? [l.item] : []))
			: []
	);
	const proofs = await tableProofsOf(db, rev);
	return {
		rev: { id: rev.id, number: rev.number, state: rev.state },
		parentNumber: parent?.number ?? null,
		layoutName: layout.name,
		attachments: await attachmentsOf(db, rev.id),
		lines: lines.map(({ item: id }) => {
			const item = findItem(rev.calibration, id)!;
			const entry = entryOf(rev, layout.tables, id);
			const scalar = layout.scalars.find((s) => s.item === id) ?? { item: id, title: titleOf(item) };
			let text = '';
			let problem = '';
			try {
				text = entry ? tableText(rev.calibration, entry) : scalarLine(rev.calibration, scalar);
			} catch (e) {
				if (!(e instanceof InputError)) throw e;
				problem = e.message;
			}
			return {
				item: id,
				title: entry?.title ?? titleOf(item),
				kind: item.kind,
				changed: differs.has(id),
				text,
				problem,
				finer: entry ? finer(rev, entry) : 0,
				proof: proofs.find((p) => p.item === id) ?? null
			};
		})
	};
};

export const actions: Actions = {
	prove: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const rev = await revisionOr404(locals.app, job.id, params.rev);
		const data = await request.formData();
		const item = field(data, 'item');
		const text = data.get('text');
		return orFail(
			async () => {
				const { layout } = await layoutOfJob(locals.app.db, job.id, job.vehicle, rev.calibration.fuelModel);
				await proveTable(
					locals.app.db,
					rev,
					layout,
					item,
					typeof text === 'string' ? text : '',
					tunerOr401(locals).name
				);
				return { proved: item };
			},
			{ item }
		);
	},
	/** What is really in the file becomes the draft's. */
	take: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const rev = await revisionOr404(locals.app, job.id, params.rev);
		const data = await request.formData();
		return orFail(async () => {
			const { layout } = await layoutOfJob(locals.app.db, job.id, job.vehicle, rev.calibration.fuelModel);
			const taken = await takeFound(locals.app.db, rev, layout, field(data, 'item'), field(data, 'reason'));
			return { taken };
		});
	},
	/** What the program's decimals can't hold becomes what it holds. */
	round: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const rev = await revisionOr404(locals.app, job.id, params.rev);
		const id = field(await request.formData(), 'item');
		return orFail(async () => {
			const { layout } = await layoutOfJob(locals.app.db, job.id, job.vehicle, rev.calibration.fuelModel);
			const entry = layout.tables.find((t) => t.item === id);
			const item = findItem(rev.calibration, id);
			if (!entry || (item?.kind !== 'map' && item?.kind !== 'curve'))
				throw new InputError('the layout doesn’t know this table');
			const held = asHeld(item, entry);
			const at = (x: number, y: number) =>
				held.kind === 'map'
					? held.values[held.y.points.indexOf(y)]![held.x.points.indexOf(x)]!
					: held.values[held.x.points.indexOf(x)]!;
			const changes = rev.changes.map((c) => (c.item === id ? { ...c, to: at(c.x, c.y) } : c));
			await saveChanges(locals.app.db, rev, changes, rev.edits, rev.version);
			return { rounded: id };
		});
	}
};
