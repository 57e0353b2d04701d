/** Two calibrations set against each other, as the page and the report show them. */
import { itemKind, titleOf } from '$core/calibration/items.ts';
import { compare, tableDelta, type Comparison } from '$core/calibration/compare.ts';
import { changeReportCsv } from '$core/calibration/change-report.ts';
import type { Axis, Calibration } from '$core/calibration/document.ts';
import { findItem } from '$core/calibration/lookup.ts';
import { isTable } from '$core/calibration/formats/csv.ts';
import { inChannelsOf } from '$core/calibration/resample.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import { anyRevisionOr404 } from './http.ts';
import type { Revision } from '$lib/server/revisions/revisions.ts';

/** One side: a revision of this or another job, or a file. */
export interface Side {
	/** Revision id; null for a file. */
	id: number | null;
	label: string;
	jobId: number | null;
}

export interface ComparedTable {
	item: string;
	x: Axis;
	y: Axis | null;
	values: number[][];
	delta: number[][];
	/** Points of the new axes that lie beyond the old table: there the old surface is held at its edge. */
	beyondX: boolean[];
	beyondY: boolean[];
}

export interface ComparisonView {
	a: Side;
	b: Side;
	comparison: Comparison;
	tables: ComparedTable[];
	titles: Record<string, { title: string; group: string; unit: string }>;
	reasons: Record<string, string>;
}

export function sideOf(r: Revision, jobId: number, jobTitle: string): Side {
	return {
		id: r.id,
		label: r.jobId === jobId ? `R${r.number}` : `R${r.number} of ${jobTitle}`,
		jobId: r.jobId
	};
}

const outside = (points: readonly number[], of: readonly number[]) =>
	points.map((p) => p < of[0]! - 1e-9 || p > of[of.length - 1]! + 1e-9);

export function viewOf(
	left: { side: Side; calibration: Calibration },
	right: { side: Side; calibration: Calibration; reasons?: Record<string, string> }
): ComparisonView {
	const comparison = compare(left.calibration, right.calibration);
	return {
		a: left.side,
		b: right.side,
		comparison,
		tables: comparison.changes.flatMap((change) => {
			const old = findItem(left.calibration, change.item);
			const now = findItem(right.calibration, change.item);
			if (!isTable(old) || !isTable(now)) return [];
			const there = inChannelsOf(old, now);
			return [
				{
					item: change.item,
					x: now.x,
					y: now.kind === 'map' ? now.y : null,
					values: now.kind === 'map' ? now.values : [now.values],
					delta: tableDelta(old, now),
					beyondX: outside(now.x.points, there.x.points),
					beyondY:
						now.kind === 'map' && there.kind === 'map' ? outside(now.y.points, there.y.points) : [false]
				}
			];
		}),
		titles: Object.fromEntries(
			[...left.calibration.items, ...right.calibration.items].map((i) => [
				i.id,
				{ title: titleOf(i), group: i.group ?? itemKind(i.id)?.group ?? 'Other', unit: i.unit ?? '' }
			])
		),
		reasons: right.reasons ?? {}
	};
}

export const reasonsOf = (r: Revision) =>
	Object.fromEntries(r.changes.map((c) => [`${c.item}|${c.x}|${c.y}`, c.reason]));

async function titleOfJob(db: Db, jobId: number): Promise<string> {
	return (await db.selectFrom('jobs').select('title').where('id', '=', jobId).executeTakeFirstOrThrow())
		.title;
}

/** A revision of any job, seen from one of them. */
export async function revisionSide(app: App, id: string, jobId: number) {
	const r = await anyRevisionOr404(app, id);
	return {
		revision: r,
		calibration: r.calibration,
		side: sideOf(r, jobId, await titleOfJob(app.db, r.jobId)),
		reasons: reasonsOf(r)
	};
}

/** The change report of two revisions as CSV. */
export async function reportOf(app: App, a: string, b: string): Promise<{ name: string; csv: string }> {
	const left = await anyRevisionOr404(app, a);
	const right = await anyRevisionOr404(app, b);
	return {
		name: `R${left.number}-to-R${right.number}.csv`,
		csv: changeReportCsv(
			left.calibration,
			right.calibration,
			compare(left.calibration, right.calibration),
			reasonsOf(right)
		)
	};
}

/** Frozen revisions of other jobs, newest first. */
export async function revisionsElsewhere(db: Db, jobId: number): Promise<{ id: number; label: string }[]> {
	const rows = await db
		.selectFrom('revisions')
		.innerJoin('jobs', 'jobs.id', 'revisions.job_id')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.where('customers.practice', '=', 0)
		.select(['revisions.id', 'revisions.number', 'jobs.title'])
		.where('revisions.job_id', '!=', jobId)
		.where('revisions.state', '!=', 'draft')
		.orderBy('revisions.id', 'desc')
		.limit(500)
		.execute();
	return rows.map((r) => ({ id: r.id, label: `R${r.number} of ${r.title}` }));
}
