/** What happened in a job, in the order in which it happened. */
import { plural } from '../../core/format.ts';
import { parsePlugs } from '../../core/plugs/document.ts';
import type { LogRequest } from '../../core/request.ts';
import { SWAP_TITLES } from '../../core/swap-kind.ts';
import { parseSwap } from '../../core/swaps/document.ts';
import { STAGE_TITLES, type StageKind } from '../../core/fuelling/stages.ts';
import type { Db } from './db/open.ts';
import { logsOf } from './logs.ts';
import { ADVICE } from './messages.ts';
import { withdrawalsOf } from './revisions.ts';
import { briefsOf } from './screenings.ts';

export interface TimelineEvent {
	kind: 'revision' | 'log' | 'message' | 'plan' | 'hardware' | 'swap' | 'plugs' | 'stage' | 'fill';
	id: number;
	label: string;
	at: string;
	/** Verdict of a log, state of a revision. */
	state: string;
	detail: string;
}

interface LineageRow {
	id: number;
	number: number;
	state: string;
	changes: string;
	edits: string;
	parent_id: number | null;
}

/** What a revision is: how much it changes, which one it goes out from where that isn't the one before, and whether it still counts. */
function lineage(r: LineageRow, all: readonly LineageRow[], withdrawn: ReadonlySet<number>): string {
	if (r.state === 'baseline') return 'as received';
	const count = (text: string) => (JSON.parse(text) as unknown[]).length;
	const parent = all.find((p) => p.id === r.parent_id);
	const before = Math.max(
		...all.filter((p) => p.number < r.number && p.state !== 'draft').map((p) => p.number)
	);
	return [
		...(withdrawn.has(r.id) ? ['withdrawn'] : []),
		...(parent && parent.number !== before ? [`from R${parent.number}`] : []),
		`${count(r.changes) + count(r.edits)} ${count(r.edits) ? 'changes' : 'cells changed'}`
	].join(' · ');
}

/** Events of a job, the first one first. Their order is the one in which they were stored: a clock can go back, a counter doesn't. */
export async function timelineOf(db: Db, jobId: number): Promise<TimelineEvent[]> {
	const withdrawn = new Set((await withdrawalsOf(db, jobId)).map((w) => w.revisionId));
	const revisions = await db
		.selectFrom('revisions')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'revisions.id').on('timeline.kind', '=', 'revision')
		)
		.select(['id', 'number', 'state', 'created_at', 'released_at', 'changes', 'edits', 'parent_id', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const places = await db
		.selectFrom('logs')
		.innerJoin('timeline', (on) => on.onRef('timeline.ref', '=', 'logs.id').on('timeline.kind', '=', 'log'))
		.select(['logs.id', 'n'])
		.where('logs.job_id', '=', jobId)
		.execute();
	const placeOf = new Map(places.map((p) => [p.id, p.n]));
	const logs = (await logsOf(db, jobId)).map((l) => ({ ...l, n: placeOf.get(l.id)! }));
	const briefs = await briefsOf(
		db,
		logs.map((l) => l.id)
	);
	const messages = await db
		.selectFrom('messages')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'messages.id').on('timeline.kind', '=', 'message')
		)
		.select(['id', 'messages.kind', 'body', 'created_at', 'advice', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const plans = await db
		.selectFrom('requests')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'requests.id').on('timeline.kind', '=', 'plan')
		)
		.select(['id', 'document', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const hardware = await db
		.selectFrom('hardware_changes')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'hardware_changes.id').on('timeline.kind', '=', 'hardware')
		)
		.select(['id', 'what', 'at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const swaps = await db
		.selectFrom('swap_tests')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'swap_tests.id').on('timeline.kind', '=', 'swap')
		)
		.select(['id', 'document', 'answer', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const plugs = await db
		.selectFrom('plug_readings')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'plug_readings.id').on('timeline.kind', '=', 'plugs')
		)
		.select(['id', 'document', 'author', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const stages = await db
		.selectFrom('stage_calls')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'stage_calls.id').on('timeline.kind', '=', 'stage')
		)
		.select(['id', 'stage_calls.kind', 'words', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const fills = await db
		.selectFrom('fills')
		.innerJoin('timeline', (on) => on.onRef('timeline.ref', '=', 'fills.id').on('timeline.kind', '=', 'fill'))
		.select(['id', 'at', 'ethanol_pct', 'octane_ron', 'words', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	const events: [number, TimelineEvent][] = [
		...stages.map((s): [number, TimelineEvent] => [
			s.n,
			{
				kind: 'stage',
				id: s.id,
				label: `${STAGE_TITLES[s.kind as StageKind]} done`,
				at: s.created_at,
				state: 'stage',
				detail: s.words
			}
		]),
		...fills.map((f): [number, TimelineEvent] => [
			f.n,
			{
				kind: 'fill',
				id: f.id,
				label: 'Filled up',
				at: f.at,
				state: 'fill',
				detail: [
					...(f.ethanol_pct === null ? [] : [`${f.ethanol_pct} % ethanol`]),
					...(f.octane_ron === null ? [] : [`RON ${f.octane_ron}`]),
					...(f.words ? [f.words] : [])
				].join(', ')
			}
		]),
		...swaps.map((s): [number, TimelineEvent] => [
			s.n,
			{
				kind: 'swap',
				id: s.id,
				label: `Test: ${SWAP_TITLES[parseSwap(JSON.parse(s.document)).kind].toLowerCase()}`,
				at: s.created_at,
				state: 'swap',
				detail: s.answer
					? (JSON.parse(s.answer) as { answer: string }).answer.replace('-', ' ')
					: 'waits for its log'
			}
		]),
		...plugs.map((p): [number, TimelineEvent] => [
			p.n,
			{
				kind: 'plugs',
				id: p.id,
				label: 'Plugs read',
				at: p.created_at,
				state: 'plugs',
				detail: `${plural(parsePlugs(JSON.parse(p.document)).readings.length, 'cylinder')}, by ${p.author}`
			}
		]),
		...hardware.map((h): [number, TimelineEvent] => [
			h.n,
			{
				kind: 'hardware',
				id: h.id,
				label: 'Hardware changed',
				at: h.at,
				state: 'hardware',
				detail: h.what
			}
		]),
		...revisions.map((r): [number, TimelineEvent] => [
			r.n,
			{
				kind: 'revision',
				id: r.id,
				label: `R${r.number}`,
				at: r.released_at ?? r.created_at,
				state: r.state,
				detail: lineage(r, revisions, withdrawn)
			}
		]),
		...logs.map((l): [number, TimelineEvent] => [
			l.n,
			{
				kind: 'log',
				id: l.id,
				label: l.title,
				at: l.receivedAt,
				state: l.state === 'screened' ? (briefs.get(l.id)?.verdict ?? l.state) : l.state,
				detail: [l.name, ...(l.takenOut ? ['taken out'] : []), ...(l.declinedAt ? ["won't do"] : [])].join(
					' · '
				)
			}
		]),
		...messages.map((m): [number, TimelineEvent] => [
			m.n,
			{
				kind: 'message',
				id: m.id,
				label: m.advice
					? `Advice: ${ADVICE[m.advice]}`
					: { note: 'Note', 'to-customer': 'To the customer', 'from-customer': 'From the customer' }[m.kind],
				at: m.created_at,
				state: m.kind,
				detail: m.body.length > 90 ? `${m.body.slice(0, 89)}…` : m.body
			}
		]),
		...plans.map((p): [number, TimelineEvent] => [
			p.n,
			{
				kind: 'plan',
				id: p.id,
				label: (JSON.parse(p.document) as LogRequest).title ?? 'Drive plan',
				at: p.created_at,
				state: 'plan',
				detail: 'drive plan sent'
			}
		])
	];
	return events.sort(([a], [b]) => a - b).map(([, e]) => e);
}
