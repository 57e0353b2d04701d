/** The tuner's own program at the server: R0 built table by table, layouts remembered, what goes out proved. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { MapItem } from '$core/calibration/document.ts';
import { findItem } from '$core/calibration/lookup.ts';
import { itemFrom, tableIn } from '$core/calibration/tables/build.ts';
import { asItStands, starterLayout, tableLayoutSchema } from '$core/calibration/tables/layout.ts';
import { tableText } from '$core/calibration/tables/write.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { assertMayAttach, attach } from './attachments.ts';
import {
	addToDraft,
	dropItem,
	placeForItems,
	putItems,
	whyFrozen
} from '$lib/server/use-cases/base-completion.ts';
import { baselineOf } from '$lib/server/revisions/revisions.ts';
import type { App } from '$lib/server/context.ts';
import { releaseCheck } from './release-check.ts';
import { revision, type Revision } from './revisions.ts';
import {
	chooseLayout,
	copyLayout,
	keepLayout,
	keptLayout,
	keptLayouts,
	layoutOfJob,
	remember
} from './table-layouts.ts';
import { carryLines, proveTable, tableProofsOf, takeFound } from './table-proofs.ts';
import {
	cell,
	draftWith,
	NOT_REPLAYED,
	openWorld,
	putJob,
	releaseAll,
	SMALL_CALIBRATION,
	type World
} from '$lib/server/testing/world.ts';

let world: World;
let jobId: number;
const vehicle = vehicleWith({}, { controller: { hardware: 'H7', software: '1.2' } });
const entry = tableLayoutSchema.parse({
	item: 'fuel.table',
	title: 'VE main',
	unit: '%',
	decimals: 1,
	rows: 'y-up',
	axes: 'with',
	x: { channel: 'rpm' },
	y: { channel: 'map' }
});
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db, { vehicle });
});
afterEach(() => world.close());
const app = (): App => ({ db: world.db, dataDir: world.folder }) as App;

describe('R0', () => {
	const pasted = (text: string) => itemFrom(tableIn({ body: text }), { ...entry, item: 'spark.table' });
	it('is completed table by table, and a table is replaced by another paste', async () => {
		await putItems(app(), jobId, [pasted('\t1000\t2000\n50\t20\t21\n100\t10\t11\n')]);
		await putItems(app(), jobId, [pasted('\t1000\t2000\n100\t12\t13\n50\t22\t23\n')]);
		const { calibration } = await baselineOf(world.db, jobId);
		expect(calibration.items.map((i) => i.id)).toEqual(['fuel.table', 'limit.rpm', 'spark.table']);
		expect(calibration.items[2]).toMatchObject({
			values: [
				[22, 23],
				[12, 13]
			]
		});
		await dropItem(app(), jobId, 'spark.table');
		expect((await baselineOf(world.db, jobId)).calibration.items).toHaveLength(2);
	});
	it('stays as it is once a draft or a release stands on it', async () => {
		expect(await whyFrozen(world.db, jobId)).toBe('');
		const draft = await draftWith(world.db, jobId);
		await expect(dropItem(app(), jobId, 'limit.rpm')).rejects.toThrow(
			"R0 can't be changed any more: R1 is a draft from it"
		);
		await releaseAll(world.db, draft);
		await expect(dropItem(app(), jobId, 'limit.rpm')).rejects.toThrow('R1 was released from it');
		expect((await baselineOf(world.db, jobId)).calibration.items).toHaveLength(2);
	});
});

describe('a draft', () => {
	const added = (id: string) =>
		itemFrom(tableIn({ body: '\t1000\t2000\n50\t20\t21\n100\t10\t11\n' }), { ...entry, item: id });
	it('takes tables that come after R0 was frozen, each with its reason; one that is there is refused', async () => {
		const draft = await draftWith(world.db, jobId);
		const place = (await placeForItems(world.db, jobId))!;
		expect(place.id).toBe(draft.id);
		await addToDraft(world.db, place, [added('spark.table')], 'was in the file all along', async () => {});
		const after = (await revision(world.db, draft.id))!;
		expect(after.edits).toMatchObject([
			{ kind: 'added', item: 'spark.table', reason: 'was in the file all along' }
		]);
		expect(findItem(after.calibration, 'spark.table')).toMatchObject({
			values: [
				[20, 21],
				[10, 11]
			]
		});
		await expect(addToDraft(world.db, after, [added('fuel.table')], 'again', async () => {})).rejects.toThrow(
			'is in R1 already'
		);
	});
	it('keeps nothing where what was learnt of the layout could not be kept', async () => {
		const draft = await draftWith(world.db, jobId);
		const before = (await revision(world.db, draft.id))!;
		const fails = () => Promise.reject(new Error('disk full'));
		await expect(addToDraft(world.db, before, [added('spark.table')], 'r', fails)).rejects.toThrow(
			'disk full'
		);
		expect((await revision(world.db, draft.id))!.edits).toEqual([]);
	});
	it('takes over what is really in the file, in its own unit, as changes with a reason', async () => {
		const draft = await draftWith(world.db, jobId);
		const rev = (await revision(world.db, draft.id))!;
		const layout = starterLayout('speed-density');
		const table = findItem(rev.calibration, 'fuel.table') as MapItem;
		const odd = {
			...table,
			values: table.values.map((row, r) => row.map((v, c) => (r + c === 0 ? v + 1.5 : v)))
		};
		const text = tableText({ ...rev.calibration, items: [odd] }, asItStands(odd));
		await proveTable(world.db, rev, layout, 'fuel.table', text, 'Ann');
		await expect(takeFound(world.db, rev, layout, 'fuel.table', ' ')).rejects.toThrow('say why');
		expect(await takeFound(world.db, rev, layout, 'fuel.table', 'the program holds it')).toBe(1);
		const after = (await revision(world.db, draft.id))!;
		expect((findItem(after.calibration, 'fuel.table') as MapItem).values).toEqual(odd.values);
		expect(after.changes.at(-1)).toMatchObject({ reason: 'the program holds it', basis: 'hand' });
		await expect(takeFound(world.db, after, layout, 'fuel.table', 'twice')).rejects.toThrow(
			'paste it back once more'
		);
	});
	it('proves the file that is attached: another one proves nothing', async () => {
		const draft = await draftWith(world.db, jobId);
		const rev = (await revision(world.db, draft.id))!;
		const table = findItem(rev.calibration, 'fuel.table') as MapItem;
		const about = { name: 'tune.bin', hardware: 'H7', software: '1.2', author: 'Ann' };
		const file = (sha256: string) => ({ sha256, bytes: 3 });
		await attach(world.db, rev, file('a'.repeat(64)), about);
		await proveTable(
			world.db,
			rev,
			starterLayout('speed-density'),
			'fuel.table',
			tableText(rev.calibration, asItStands(table)),
			'Ann'
		);
		expect(await tableProofsOf(world.db, rev)).toMatchObject([{ stale: false, result: { match: true } }]);
		await attach(world.db, rev, file('b'.repeat(64)), about);
		expect(await tableProofsOf(world.db, rev)).toMatchObject([{ stale: true }]);
	});
	it('gets a file after its release only with the word that somebody has looked', () => {
		const released = { state: 'released', number: 3 } as Revision;
		expect(() => assertMayAttach(released, vehicle, 'H7', '1.2', false)).toThrow(
			'goes to the customer at once'
		);
		expect(() => assertMayAttach(released, vehicle, 'H8', '1.2', true)).toThrow('the vehicle has "H7"');
		expect(() => assertMayAttach(released, vehicle, 'H7', '1.2', true)).not.toThrow();
		expect(() => assertMayAttach({ ...released, state: 'baseline' }, vehicle, 'H7', '1.2', true)).toThrow(
			'R0'
		);
	});
});

describe('a layout', () => {
	it('is a starter for a controller that nobody described, and remembered from the first paste on', async () => {
		const first = await layoutOfJob(world.db, jobId, vehicle, 'speed-density');
		expect(first).toMatchObject({
			id: null,
			layout: { name: 'H7 1.2', controller: { hardware: 'H7', software: '1.2' } }
		});
		await remember(world.db, jobId, vehicle, 'speed-density', { tables: [entry] });
		const other = await putJob(world.db, { customer: 'Ben Ash', vehicle });
		const known = await layoutOfJob(world.db, other, vehicle, 'speed-density');
		expect(known.id).not.toBeNull();
		expect(known.layout.tables.find((t) => t.item === 'fuel.table')).toMatchObject({
			title: 'VE main',
			rows: 'y-up'
		});
		// Another software is another controller.
		const newer = vehicleWith({}, { controller: { hardware: 'H7', software: '1.3' } });
		expect((await layoutOfJob(world.db, other, newer, 'speed-density')).id).toBeNull();
	});
	it('is copied for another controller, named as such, never for the same one', async () => {
		const id = await keepLayout(world.db, {
			...starterLayout('maf'),
			name: 'A',
			controller: { hardware: 'H7', software: '1.2' }
		});
		await expect(copyLayout(world.db, id, { name: 'B', hardware: 'H7', software: '1.2' })).rejects.toThrow(
			'the very same controller'
		);
		await expect(copyLayout(world.db, id, { name: 'B', hardware: '', software: '1' })).rejects.toThrow(
			'needs its own name'
		);
		const copy = (await keptLayout(
			world.db,
			await copyLayout(world.db, id, { name: 'B', hardware: 'H7', software: '2' })
		))!;
		expect(copy.layout).toMatchObject({ name: 'B', controller: { hardware: 'H7', software: '2' } });
		expect(await keptLayouts(world.db)).toHaveLength(2);
	});
});

describe('what goes out', () => {
	it('is every table of a first release; later the changed ones and anchors', () => {
		const next = {
			...SMALL_CALIBRATION,
			items: SMALL_CALIBRATION.items.map((i) =>
				i.id === 'limit.rpm' && i.kind === 'scalar' ? { ...i, value: 6800 } : i
			)
		};
		const layout = { ...starterLayout('speed-density'), tables: [entry] };
		expect(carryLines(null, next, layout)).toEqual([
			{ item: 'fuel.table', changed: true },
			{ item: 'limit.rpm', changed: true }
		]);
		expect(carryLines(SMALL_CALIBRATION, next, layout)).toEqual([
			{ item: 'fuel.table', changed: false },
			{ item: 'limit.rpm', changed: true }
		]);
	});
	it('is proved by pasting it back; a change afterwards undoes the proof', async () => {
		await chooseLayout(
			world.db,
			jobId,
			await keepLayout(world.db, { ...starterLayout('speed-density'), tables: [entry], scalars: [] })
		);
		const draft = await draftWith(world.db, jobId, [cell(72)]);
		const { layout } = await layoutOfJob(world.db, jobId, vehicle, 'speed-density');
		const ids = async () =>
			(await releaseCheck(world.db, (await revision(world.db, draft.id))!, NOT_REPLAYED)).holds.map(
				(h) => h.id
			);
		expect(await ids()).toEqual(['no-file', 'not-proved']);
		const text = tableText(draft.calibration, entry);
		const wrong = await proveTable(
			world.db,
			draft,
			layout,
			'fuel.table',
			text.replace('72.0', '73.0'),
			'Sable'
		);
		expect(wrong).toMatchObject({ match: false, differences: [{ x: 1000, y: 50, revision: 72, found: 73 }] });
		expect(await ids()).toContain('file-differs');
		const old = tableText((await baselineOf(world.db, jobId)).calibration, entry);
		expect((await proveTable(world.db, draft, layout, 'fuel.table', old, 'Sable')).fits).toBe('R0');
		expect((await proveTable(world.db, draft, layout, 'fuel.table', text, 'Sable')).match).toBe(true);
		await proveTable(world.db, draft, layout, 'limit.rpm', 'limit.rpm\t7000\n', 'Sable');
		expect(await ids()).toEqual(['no-file']);
		const [proof] = (await tableProofsOf(world.db, draft)).filter((p) => p.item === 'fuel.table');
		expect(proof).toMatchObject({ author: 'Sable', stale: false });
		expect((await tableProofsOf(world.db, { id: draft.id, contentHash: 'another' }))[0]!.stale).toBe(true);
	});
	it('asks nothing of a job whose tables come from elsewhere', async () => {
		const draft = await draftWith(world.db, jobId, [cell(72)]);
		expect((await releaseCheck(world.db, draft, NOT_REPLAYED)).holds.map((h) => h.id)).not.toContain(
			'not-proved'
		);
	});
});
