/** Logs of a job, and what is known of each. */
import { weighty, type Brief } from '$core/screening/brief.ts';
import { InputError } from '$core/input-error.ts';
import type { CorrectionCells } from '$core/evidence/cells/correction-map.ts';
import type { Undecided } from '$core/channels/reading.ts';
import type { LayoutSeen } from '$core/logfile/layout-error.ts';
import type { UnmappedColumn } from '$core/logfile/log.ts';
import type { Report } from '$core/screening/report.ts';
import type { Profile } from '$core/limits/profile.ts';
import type { PullCurves } from '$core/evidence/segments/pull-curves.ts';
import type { Db } from '$lib/server/db/open.ts';
import { dropFile } from '$lib/server/storage/stored-files.ts';
import { logTitles } from '$lib/log-titles.ts';
import { conditionsFrom } from './log-conditions.ts';
import { briefsOf } from './screenings.ts';
import type { Conditions } from '$core/vehicle/conditions.ts';
import type { PlacedEvent } from '$lib/server/jobs/timeline-event.ts';

export interface LogLine {
	id: number;
	jobId: number;
	name: string;
	state: 'received' | 'reading' | 'screened' | 'failed';
	progress: number;
	message: string | null;
	revisionId: number;
	revision: number;
	bytes: number;
	rows: number;
	durationS: number;
	sentBy: 'tuner' | 'customer';
	receivedAt: string;
	sha256: string;
	kind: 'drive' | 'problem';
	words: string;
	momentS: number | null;
	answers: Record<string, string>;
	/** What was said of the day and of the sensors' seats. */
	conditions: Conditions | null;
	requestId: number | null;
	declinedAt: string | null;
	/** What people call it: revision, day, what was driven. Told apart by the time where two would be called the same. */
	title: string;
	/** A person took it out: it stays in the record and speaks for nothing. */
	takenOut: { reason: string; by: string } | null;
	/** Columns that two units fit. */
	questions: LogQuestion[];
	/** What was seen of a layout that isn't recognised. */
	seen: LayoutSeen | null;
}

/** A column that two units fit, with what its values would mean in each. */
export interface LogQuestion extends Undecided {
	channel: string;
	raw: string;
	rawUnit: string;
	/** Canonical unit of the readings. */
	unit: string;
}

function lines(db: Db) {
	return db
		.selectFrom('logs')
		.innerJoin('revisions', 'revisions.id', 'logs.revision_id')
		.select([
			'logs.id',
			'logs.job_id as jobId',
			'logs.name',
			'logs.state',
			'logs.progress',
			'logs.message',
			'logs.revision_id as revisionId',
			'revisions.number as revision',
			'logs.bytes',
			'logs.rows',
			'logs.duration_s as durationS',
			'logs.sent_by as sentBy',
			'logs.received_at as receivedAt',
			'logs.sha256',
			'logs.kind',
			'logs.words',
			'logs.moment_s as momentS',
			'logs.answers',
			'logs.conditions',
			'logs.request_id as requestId',
			'logs.declined_at as declinedAt',
			'logs.taken_out as takenOutFor',
			'logs.taken_out_by as takenOutBy',
			'logs.questions',
			'logs.seen'
		]);
}

type Row = Awaited<ReturnType<ReturnType<typeof lines>['execute']>>[number];

function line({ takenOutFor, takenOutBy, ...row }: Row): Omit<LogLine, 'title'> {
	return {
		...row,
		takenOut: takenOutFor === null ? null : { reason: takenOutFor, by: takenOutBy ?? '' },
		answers: JSON.parse(row.answers) as Record<string, string>,
		conditions: conditionsFrom(row.conditions),
		questions: JSON.parse(row.questions) as LogQuestion[],
		seen: row.seen === null ? null : (JSON.parse(row.seen) as LayoutSeen)
	};
}

export async function logLine(db: Db, id: number): Promise<LogLine | null> {
	const row = await db.selectFrom('logs').select('job_id').where('id', '=', id).executeTakeFirst();
	return row ? ((await logsOf(db, row.job_id)).find((l) => l.id === id) ?? null) : null;
}

/** All logs of a job, the first one first. */
export async function logsOf(db: Db, jobId: number): Promise<LogLine[]> {
	const rows = (await lines(db).where('logs.job_id', '=', jobId).orderBy('logs.id').execute()).map(line);
	const briefs = await briefsOf(
		db,
		rows.map((l) => l.id)
	);
	const titles = logTitles(rows.map((l) => ({ ...l, pulls: briefs.get(l.id)?.pulls.length ?? null })));
	return rows.map((l, i) => ({ ...l, title: titles[i]! }));
}

/** A log that was sent by mistake, or that nobody should judge by: it stays in the record and speaks for nothing. An empty reason takes it in again. */
export async function takeOut(db: Db, log: LogLine, author: string, reason: string): Promise<void> {
	const said = reason.trim();
	if (said.length > 300) throw new InputError('the reason is longer than 300 characters');
	await db
		.updateTable('logs')
		.set({ taken_out: said || null, taken_out_by: said ? author : null })
		.where('id', '=', log.id)
		.execute();
}

export interface Screening {
	version: string | number;
	profile: Profile;
	report: Report;
	cells: CorrectionCells | null;
	pulls: PullCurves[];
	unmapped: UnmappedColumn[];
	at: string;
}

/** The newest screening of a log; `null` while there is none. */
export async function screeningOf(db: Db, logId: number): Promise<Screening | null> {
	const row = await db
		.selectFrom('screenings')
		.selectAll()
		.where('log_id', '=', logId)
		.orderBy('id', 'desc')
		.executeTakeFirst();
	if (!row) return null;
	return {
		version: row.version,
		profile: JSON.parse(row.profile) as Profile,
		report: JSON.parse(row.report) as Report,
		cells: JSON.parse(row.cells) as CorrectionCells | null,
		pulls: JSON.parse(row.pulls) as PullCurves[],
		unmapped: JSON.parse(row.unmapped) as UnmappedColumn[],
		at: row.created_at
	};
}

/** An earlier run of the checks over a log. */
export interface EarlierRun {
	at: string;
	version: string | number;
	verdict: Report['verdict'];
	findings: number;
	/** Limits that were other then: name, then, now. */
	limits: { name: string; then: number; now: number }[];
}

/** Runs before the newest one, newest first. */
export async function earlierRuns(db: Db, logId: number): Promise<EarlierRun[]> {
	const rows = await db
		.selectFrom('screenings')
		.select(['version', 'profile', 'brief', 'created_at'])
		.where('log_id', '=', logId)
		.orderBy('id', 'desc')
		.limit(20)
		.execute();
	const [newest, ...before] = rows;
	if (!newest) return [];
	const now = JSON.parse(newest.profile) as Record<string, number>;
	return before.map((r) => {
		const then = JSON.parse(r.profile) as Record<string, number>;
		const brief = JSON.parse(r.brief) as Brief;
		return {
			at: r.created_at,
			version: r.version,
			verdict: brief.verdict,
			findings: weighty(brief).length,
			limits: Object.keys(now).flatMap((name) =>
				then[name] !== undefined && then[name] !== now[name]
					? [{ name, then: then[name], now: now[name]! }]
					: []
			)
		};
	});
}

/** Notes that a log won't do. */
export async function markDeclined(db: Db, logId: number, now = new Date()): Promise<void> {
	await db.updateTable('logs').set({ declined_at: now.toISOString() }).where('id', '=', logId).execute();
}

/** Takes a log that can't be read, or was sent by mistake, out of its job. */
export async function removeLog({ db, dataDir }: { db: Db; dataDir: string }, log: LogLine): Promise<void> {
	await db.deleteFrom('logs').where('id', '=', log.id).execute();
	await dropFile(db, dataDir, log.sha256);
}

/** Logs as they came, for the timeline. */
export async function logEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const places = await db
		.selectFrom('logs')
		.innerJoin('timeline', (on) => on.onRef('timeline.ref', '=', 'logs.id').on('timeline.kind', '=', 'log'))
		.select(['logs.id', 'n'])
		.where('logs.job_id', '=', jobId)
		.execute();
	const placeOf = new Map(places.map((p) => [p.id, p.n]));
	const logs = await logsOf(db, jobId);
	const briefs = await briefsOf(
		db,
		logs.map((l) => l.id)
	);
	return logs.map((l) => ({
		n: placeOf.get(l.id)!,
		kind: 'log',
		id: l.id,
		label: l.title,
		at: l.receivedAt,
		state: l.state === 'screened' ? (briefs.get(l.id)?.verdict ?? l.state) : l.state,
		detail: [l.name, ...(l.takenOut ? ['excluded'] : []), ...(l.declinedAt ? ['rejected'] : [])].join(' · '),
		...(l.takenOut || l.declinedAt ? { aside: true as const } : {})
	}));
}
