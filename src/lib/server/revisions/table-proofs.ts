/**
 * What goes out against what is in the file: tables pasted back from the closed file that is attached, held against the revision. Whoever
 * releases sees which are proved, which differ, which nobody has looked at.
 */
import { createHash } from 'node:crypto';
import { sameItem } from '$core/calibration/compare.ts';
import type { Calibration, Item } from '$core/calibration/document.ts';
import { decimalsOf, findItem, roundTo } from '$core/calibration/lookup.ts';
import type { Layout } from '$core/calibration/tables/layout.ts';
import { verifyText, type Verified } from '$core/calibration/tables/verify.ts';
import { inUnit } from '$core/calibration/tables/write.ts';
import { InputError } from '$core/input-error.ts';
import { withEdits } from '$core/revising/edits.ts';
import { byHand } from '$core/revising/changes.ts';
import { filesSeen } from './attachments.ts';
import type { Db } from '$lib/server/db/open.ts';
import { revision, revisionsOf, saveChanges, type Revision } from './revisions.ts';

export interface TableProof {
	item: string;
	result: Verified;
	author: string;
	at: string;
	/** The revision or its closed file was changed since: it proves nothing any more. */
	stale: boolean;
}

/** The newest proof of each item of a revision. */
export async function tableProofsOf(
	db: Db,
	rev: Pick<Revision, 'id' | 'contentHash'>
): Promise<TableProof[]> {
	const rows = await db
		.selectFrom('table_proofs')
		.selectAll()
		.where('revision_id', '=', rev.id)
		.orderBy('id', 'desc')
		.execute();
	const files = await filesSeen(db, rev.id);
	const seen = new Set<string>();
	return rows
		.filter((r) => !seen.has(r.item) && seen.add(r.item))
		.map((r) => ({
			item: r.item,
			result: JSON.parse(r.result) as Verified,
			author: r.author,
			at: r.created_at,
			stale: r.content_hash !== rev.contentHash || r.files !== files
		}));
}

/** Holds a text against a revision and writes down how it ended. @throws InputError where the text is no table */
export async function proveTable(
	db: Db,
	rev: Revision,
	layout: Layout,
	item: string,
	text: string,
	author: string,
	now = new Date()
): Promise<Verified> {
	const entry = layout.tables.find((t) => t.item === item);
	const scalar = layout.scalars.find((s) => s.item === item);
	const earlier = (await revisionsOf(db, rev.jobId)).filter(
		(l) => l.number < rev.number && l.state !== 'draft'
	);
	const older = await Promise.all(
		earlier
			.toReversed()
			.map(async (l) => ({ name: `R${l.number}`, calibration: (await revision(db, l.id))!.calibration }))
	);
	const result = verifyText(
		text,
		rev.calibration,
		item,
		{
			units: entry?.unit ?? scalar?.unit,
			xUnit: entry?.x.unit,
			yUnit: entry?.y?.unit,
			decimals: entry?.decimals ?? scalar?.decimals,
			rows: entry?.rows,
			transposed: entry?.transposed
		},
		older
	);
	await db
		.insertInto('table_proofs')
		.values({
			revision_id: rev.id,
			item,
			content_hash: rev.contentHash,
			files: await filesSeen(db, rev.id),
			text_hash: createHash('sha256').update(text).digest('hex'),
			match: result.match ? 1 : 0,
			verified: result.verified,
			result: JSON.stringify(result),
			author,
			created_at: now.toISOString()
		})
		.execute();
	return result;
}

/**
 * What is really in the file becomes the draft's, as changes with a reason.
 * @throws InputError where nothing was found to differ, or it was changed since
 */
export async function takeFound(
	db: Db,
	draft: Revision,
	layout: Layout,
	id: string,
	reason: string
): Promise<number> {
	if (!reason.trim()) throw new InputError('say why what is in the file is taken over');
	const proof = (await tableProofsOf(db, draft)).find((p) => p.item === id && !p.stale);
	const item = findItem(draft.calibration, id);
	if (!proof?.result.differences.length || !item || item.kind === 'setting')
		throw new InputError('nothing is known to differ there: paste it back once more');
	const unit = [...layout.tables, ...layout.scalars].find((e) => e.item === id)?.unit;
	const turn = inUnit(item, unit);
	// Units are scales and offsets: two points say how to come back.
	const [zero, per] = [turn(0), turn(1) - turn(0)];
	const own = (await revision(db, draft.parentId!))!.calibration;
	const base = findItem(withEdits(own, draft.edits), id)!;
	const found = proof.result.differences.map(({ x, y, found: v }) =>
		byHand(id, { x, y }, valueAt(base, x, y), roundTo((v - zero) / per, decimalsOf(item)), reason.trim())
	);
	const key = (c: { item: string; x: number; y: number }) => `${c.item}|${c.x}|${c.y}`;
	const taken = new Set(found.map(key));
	await saveChanges(
		db,
		draft,
		[...draft.changes.filter((c) => !taken.has(key(c))), ...found.filter((c) => c.to !== c.from)],
		draft.edits,
		draft.version
	);
	return found.length;
}

function valueAt(item: Item, x: number, y: number): number {
	if (item.kind === 'scalar') return item.value;
	if (item.kind === 'setting') return Number.NaN;
	const row = item.kind === 'map' ? item.values[item.y.points.indexOf(y)] : item.values;
	return row![item.x.points.indexOf(x)]!;
}

export interface CarryLine {
	item: string;
	/** It differs from the parent; the others are anchors, which have to be as they were. */
	changed: boolean;
}

/** Unchanged tables that are asked for beside the changed ones. */
const ANCHORS = 2;

/**
 * What has to be carried over and proved, in the order of the layout: every changed table and value, and two unchanged tables as anchors;
 * everything for a first release.
 */
export function carryLines(parent: Calibration | null, next: Calibration, layout: Layout): CarryLine[] {
	const order = [...layout.tables, ...layout.scalars].map((e) => e.item);
	const place = (id: string) => (order.includes(id) ? order.indexOf(id) : order.length);
	const carried = next.items.filter((i) => i.kind !== 'setting');
	const lines = carried.map((i) => ({
		item: i.id,
		changed: !parent || !sameItem(findItem(parent, i.id), i)
	}));
	const anchors = lines
		.filter((l) => !l.changed && order.includes(l.item) && findItem(next, l.item)?.kind !== 'scalar')
		.slice(0, ANCHORS);
	return lines.filter((l) => l.changed || anchors.includes(l)).sort((a, b) => place(a.item) - place(b.item));
}
