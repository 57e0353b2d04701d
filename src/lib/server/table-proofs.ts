/**
 * What goes out against what is in the file: tables pasted back from the closed file that is attached, held against the revision. Whoever
 * releases sees which are proved, which differ, which nobody has looked at.
 */
import { createHash } from 'node:crypto';
import { sameItem } from '../../core/calibration/compare.ts';
import { findItem, type Calibration } from '../../core/calibration/document.ts';
import type { Layout } from '../../core/calibration/tables/layout.ts';
import { verifyText, type Verified } from '../../core/calibration/tables/verify.ts';
import type { Db } from './db/open.ts';
import { revision, revisionsOf, type Revision } from './revisions.ts';

export interface TableProof {
	item: string;
	result: Verified;
	author: string;
	at: string;
	/** The revision was changed since: it proves nothing any more. */
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
	const seen = new Set<string>();
	return rows
		.filter((r) => !seen.has(r.item) && seen.add(r.item))
		.map((r) => ({
			item: r.item,
			result: JSON.parse(r.result) as Verified,
			author: r.author,
			at: r.created_at,
			stale: r.content_hash !== rev.contentHash
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
