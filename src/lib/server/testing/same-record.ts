/** Two records of one job, from two Tantos: equal but for their ids, and for what each works out or keeps for itself. */
import { references } from '$lib/server/archive/belongings.ts';
import type { ArchivedRow, ArchiveRecord } from '$lib/server/archive/open.ts';
import type { Db } from '$lib/server/db/open.ts';
import { TIMELINE_TABLES } from '$lib/server/jobs/timeline-event.ts';

/** Columns of a reading, which each Tanto does anew, and of its own accounts and mails. */
const OWN: Readonly<Record<string, readonly string[]>> = {
	logs: [
		'state',
		'progress',
		'run',
		'packed',
		'message',
		'rows',
		'duration_s',
		'time_faults',
		'questions',
		'seen'
	],
	jobs: ['tuner_id', 'tuner_name'],
	mails: ['state', 'error']
};
const SKIPPED = new Set(['links', 'log_channels', 'practice_sessions']);

/** The record with each id as its place in its table: what is left can be compared. */
export async function comparable(db: Db, { tables, timeline, layout }: ArchiveRecord): Promise<object> {
	const keys = await references(db);
	const sorted = (name: string): ArchivedRow[] =>
		[...(tables[name] ?? [])].sort((a, b) => Number(a['id'] ?? 0) - Number(b['id'] ?? 0));
	const place = (table: string, id: unknown): string | null =>
		id === null
			? null
			: `${table} ${table === 'table_layouts' ? '' : sorted(table).findIndex((r) => r['id'] === id)}`;
	const out: Record<string, unknown> = {};
	for (const name of Object.keys(tables)) {
		if (SKIPPED.has(name)) continue;
		out[name] = sorted(name).map((row) =>
			Object.fromEntries(
				Object.entries(row)
					.filter(([column]) => !(OWN[name] ?? []).includes(column))
					.map(([column, value]) => {
						if (column === 'id') return [column, place(name, value)];
						const to = keys.find((k) => k.table === name && k.column === column);
						if (to) return [column, place(to.parent, value)];
						if (column === 'proposal_logs')
							return [column, (JSON.parse(String(value)) as number[]).map((id) => place('logs', id))];
						return [column, value];
					})
			)
		);
	}
	const where = TIMELINE_TABLES as Readonly<Record<string, string>>;
	return {
		...out,
		layout: layout && { ...layout, id: null },
		timeline: timeline.map(({ kind, ref }) => `${kind}: ${place(where[kind]!, ref)}`)
	};
}
