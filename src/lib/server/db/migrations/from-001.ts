/** Up to the order of a job's events. */
import { sql, type Kysely, type Migration } from 'kysely';
import type { Report } from '$core/screening/report.ts';
import { briefOf } from '$core/screening/brief.ts';

export const FROM_001: Record<string, Migration> = {
	'001-first': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table customers (
				id integer primary key, name text not null, email text, created_at text not null)`);
			await text(`create table vehicles (
				id integer primary key, customer_id integer not null references customers(id),
				document text not null, created_at text not null)`);
			await text(`create table jobs (
				id integer primary key, customer_id integer not null references customers(id),
				vehicle_id integer not null references vehicles(id), title text not null,
				waiting_on text not null check (waiting_on in ('tuner', 'customer')),
				waiting_since text not null, created_at text not null)`);
			await text(`create table revisions (
				id integer primary key, job_id integer not null references jobs(id), number integer not null,
				parent_id integer references revisions(id),
				state text not null check (state in ('baseline', 'draft', 'released')),
				document text not null, content_hash text not null, changes text not null, proposal text,
				proposal_logs text not null, notes text not null, override_reason text,
				created_at text not null, released_at text, unique (job_id, number))`);
			// Released revisions are frozen by the database itself, not by the good manners of the code above it.
			await text(`create trigger revisions_frozen before update on revisions
				when old.state in ('baseline', 'released')
				begin select raise(abort, 'a released revision cannot be changed'); end`);
			await text(`create trigger revisions_kept before delete on revisions
				when old.state in ('baseline', 'released')
				begin select raise(abort, 'a released revision cannot be deleted'); end`);
			await text(`create table attachments (
				id integer primary key, revision_id integer not null references revisions(id) on delete cascade,
				name text not null, bytes integer not null, sha256 text not null, hardware text not null,
				software text not null, created_at text not null)`);
			await text(`create table logs (
				id integer primary key, job_id integer not null references jobs(id),
				revision_id integer not null references revisions(id), name text not null, sha256 text not null,
				bytes integer not null, sent_by text not null check (sent_by in ('tuner', 'customer')),
				state text not null check (state in ('received', 'reading', 'screened', 'failed')),
				progress integer not null default 0, message text, rows integer not null default 0,
				duration_s real not null default 0, received_at text not null, unique (job_id, sha256))`);
			await text(`create table log_channels (
				id integer primary key, log_id integer not null references logs(id) on delete cascade,
				channel text not null, base integer not null, raw text not null, raw_unit text not null,
				unit text not null, note text not null, source text not null, rate_hz real not null,
				samples integer not null, texts text not null)`);
			await text(`create index log_channels_log on log_channels(log_id)`);
			await text(`create table log_blocks (
				channel_row integer not null references log_channels(id) on delete cascade, level integer not null,
				block integer not null, bytes blob not null, primary key (channel_row, level, block)) without rowid`);
			await text(`create table screenings (
				id integer primary key, log_id integer not null references logs(id) on delete cascade,
				version integer not null, profile text not null, report text not null, cells text not null,
				pulls text not null, unmapped text not null, created_at text not null)`);
			await text(`create index screenings_log on screenings(log_id)`);
			await text(`create table links (
				id integer primary key, job_id integer not null references jobs(id), token_hash text not null unique,
				created_at text not null, expires_at text not null, revoked_at text)`);
			await text(`create table assignments (
				customer_id integer not null references customers(id) on delete cascade, key text not null,
				channel text, unit text, primary key (customer_id, key))`);
		}
	},
	'002-clock-and-units': {
		async up(db: Kysely<unknown>) {
			await sql`alter table logs add column time_faults text`.execute(db);
			await sql`alter table log_channels add column contradiction text`.execute(db);
		}
	},
	'003-front-of-the-job': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`alter table customers add column notes text not null default ''`);
			for (const column of ['goals', 'done_before', 'agreed'])
				await text(`alter table jobs add column ${column} text not null default ''`);
			await text(`create table requests (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade,
				template text not null, document text not null, created_at text not null)`);
			await text(`create index requests_job on requests(job_id)`);
			await text(`alter table logs add column request_id integer references requests(id)`);
			await text(
				`alter table logs add column kind text not null default 'drive' check (kind in ('drive', 'problem'))`
			);
			await text(`alter table logs add column words text not null default ''`);
			await text(`alter table logs add column moment_s real`);
			await text(`alter table logs add column answers text not null default '{}'`);
			await text(`alter table logs add column declined_at text`);
			await text(`alter table logs add column questions text not null default '[]'`);
			await text(`alter table logs add column packed integer not null default 0`);
			await text(`create table mails (
				id integer primary key, job_id integer references jobs(id) on delete cascade, to_address text not null,
				subject text not null, body text not null, state text not null check (state in ('waiting', 'sent', 'failed')),
				error text, created_at text not null, sent_at text)`);
			await text(`create table messages (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade,
				kind text not null check (kind in ('note', 'to-customer', 'from-customer')), author text not null,
				body text not null, log_id integer references logs(id) on delete set null,
				mail_id integer references mails(id), created_at text not null)`);
			await text(`create index messages_job on messages(job_id)`);
			await text(`create table caught_mails (
				id integer primary key, from_address text not null, to_address text not null, subject text not null,
				body text not null, received_at text not null)`);
			await text(`create table lookover (
				job_id integer not null references jobs(id) on delete cascade, item text not null,
				state text not null check (state in ('fine', 'not-fine', 'unsure')), remark text not null, at text not null,
				primary key (job_id, item))`);
			await text(`create table photos (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade, item text not null,
				sha256 text not null, bytes integer not null, width integer not null, height integer not null,
				created_at text not null)`);
			await text(`create index photos_job on photos(job_id)`);
			await text(`create table invitations (
				id integer primary key, email text not null, token_hash text not null unique, invited_by text not null,
				created_at text not null, expires_at text not null, used_at text)`);
			await text(`create table tuner_settings (
				user_id text not null, key text not null, value text not null, primary key (user_id, key)) without rowid`);
			// Columns are packed from here on, and know how they were converted: logs that were read before are read again.
			await text(`alter table log_channels add column scale real not null default 1`);
			await text(`alter table log_channels add column shift real not null default 0`);
			await text(`alter table log_channels add column read_as text not null default ''`);
			await text(`delete from log_channels`);
			await text(`update logs set state = 'received', progress = 0 where state = 'screened'`);
		}
	},
	'004-findings-answered': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table finding_answers (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade,
				log_id integer not null references logs(id) on delete cascade, key text not null,
				kind text not null check (kind in ('accepted', 'false-alarm', 'resolved')), reason text not null,
				author text not null, created_at text not null)`);
			await text(`create index finding_answers_job on finding_answers(job_id)`);
			// More is checked from here on: what was screened before is screened again.
			await text(`update logs set state = 'received', progress = 0 where state = 'screened'`);
		}
	},
	'005-knock-proofs': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table knock_proofs (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade,
				region text not null, author text not null, created_at text not null)`);
			await text(`create index knock_proofs_job on knock_proofs(job_id)`);
			await text(`create table knock_proof_steps (
				proof_id integer not null references knock_proofs(id) on delete cascade,
				step text not null check (step in ('baseline', 'mixture', 'timing', 'octane')),
				log_id integer not null references logs(id) on delete cascade, measure text not null,
				author text not null, created_at text not null, primary key (proof_id, step))`);
			// The lag is estimated per log from here on: what was screened before is screened again.
			await text(`update logs set state = 'received', progress = 0 where state = 'screened'`);
		}
	},
	'006-releases-held-and-answered': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table hold_answers (
				revision_id integer not null references revisions(id) on delete cascade, hold text not null,
				title text not null, reason text not null, author text not null, created_at text not null,
				primary key (revision_id, hold))`);
			await text(`insert into hold_answers (revision_id, hold, title, reason, author, created_at)
				select id, 'finding', 'A finding at stop', override_reason, '', coalesce(released_at, created_at)
				from revisions where override_reason is not null`);
			// Beside the frozen revision, not in it: what happened to it afterwards.
			await text(`create table revision_events (
				id integer primary key, revision_id integer not null references revisions(id) on delete cascade,
				kind text not null check (kind in ('installed', 'withdrawn')), author text not null,
				reason text not null, created_at text not null)`);
			await text(`create index revision_events_revision on revision_events(revision_id)`);
			await text(`create table replays (
				revision_id integer not null references revisions(id) on delete cascade,
				log_id integer not null references logs(id) on delete cascade, content_hash text not null,
				result text not null, primary key (revision_id, log_id)) without rowid`);
			await text(`alter table jobs add column done_at text`);
			await text(`alter table jobs add column done_words text not null default ''`);
		}
	},
	'007-edits-and-advice': {
		async up(db: Kysely<unknown>) {
			await sql.raw(`alter table revisions add column edits text not null default '[]'`).execute(db);
			await sql
				.raw(
					`alter table messages add column advice text
				check (advice in ('repair', 'part', 'fuel', 'log', 'other'))`
				)
				.execute(db);
			await sql
				.raw(
					`create table timeslips (
				id integer primary key, job_id integer not null references jobs(id), log_id integer references logs(id) on delete set null,
				title text not null, values_json text not null, created_at text not null)`
				)
				.execute(db);
			await sql.raw(`create index timeslips_job on timeslips(job_id)`).execute(db);
		}
	},
	'008-layouts-and-longer-proofs': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`alter table logs add column layout text`);
			await text(`alter table logs add column seen text`);
			await text(`create table layouts (
				customer_id integer not null references customers(id) on delete cascade, document text not null,
				created_at text not null, primary key (customer_id, document))`);
			// A proof ends with its baseline again.
			await text(`create table longer_steps (
				proof_id integer not null references knock_proofs(id) on delete cascade,
				step text not null check (step in ('baseline', 'mixture', 'timing', 'octane', 'again')),
				log_id integer not null references logs(id) on delete cascade, measure text not null,
				author text not null, created_at text not null, primary key (proof_id, step))`);
			await text(`insert into longer_steps select * from knock_proof_steps`);
			await text(`drop table knock_proof_steps`);
			await text(`alter table longer_steps rename to knock_proof_steps`);
			// Readings are chosen together and more is checked from here on: what was screened before is screened again.
			await text(`update logs set state = 'received', progress = 0 where state in ('screened', 'failed')`);
		}
	},
	'009-holds-that-hold': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			// Ids that were given are never given again, whatever is deleted.
			await text(`create table ids (name text primary key, last integer not null)`);
			// Columns of a log become its columns only when all of them are there: each reading is a run of its own.
			await text(`alter table logs add column run integer not null default 0`);
			await text(`alter table log_channels add column run integer not null default 0`);
			// Every save of a draft names the version that it was made on.
			await text(`alter table revisions add column version integer not null default 0`);
			// What lists need of a screening, without its report.
			await text(`alter table screenings add column brief text not null default ''`);
			const rows = await sql<{ id: number; report: string }>`select id, report from screenings`.execute(db);
			for (const { id, report } of rows.rows) {
				const brief = JSON.stringify(briefOf(JSON.parse(report) as Report));
				await sql`update screenings set brief = ${brief} where id = ${id}`.execute(db);
			}
			await text(`create index logs_job on logs(job_id)`);
			await text(`create index revisions_job on revisions(job_id)`);
			// Mail is written down with what it tells of, and sent from there.
			await text(`alter table mails add column attempts integer not null default 0`);
			await text(`alter table mails add column next_at text not null default ''`);
			await text(`create index mails_waiting on mails(state, next_at)`);
		}
	},
	'010-order': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			// The order of what happened, counted: clocks go back. A revision counts from its release, a job from when it began to wait.
			await text(`create table timeline (
				n integer primary key autoincrement, kind text not null, ref integer not null, unique (kind, ref))`);
			await text(`insert into timeline (kind, ref) select kind, ref from (
				select 'revision' as kind, id as ref, coalesce(released_at, created_at) as at, 0 as side from revisions
				union all select 'log', id, received_at, 1 from logs
				union all select 'message', id, created_at, 2 from messages
				union all select 'plan', id, created_at, 3 from requests
				union all select 'screening', id, created_at, 4 from screenings
				union all select 'waiting', id, waiting_since, 5 from jobs) order by at, side, ref`);
			const counted = (name: string, when: string, kind: string) =>
				text(`create trigger ${name} after ${when} begin
					insert or replace into timeline (kind, ref) values ('${kind}', new.id); end`);
			await counted('revisions_counted', 'insert on revisions', 'revision');
			await counted(
				'releases_counted',
				`update of state on revisions when new.state = 'released'`,
				'revision'
			);
			await counted('logs_counted', 'insert on logs', 'log');
			await counted('messages_counted', 'insert on messages', 'message');
			await counted('requests_counted', 'insert on requests', 'plan');
			await counted('screenings_counted', 'insert on screenings', 'screening');
			await counted('jobs_counted', 'insert on jobs', 'waiting');
			await counted('waits_counted', 'update of waiting_since on jobs', 'waiting');
			// Lists are made from this index alone: in the table a brief stands behind a report, cells and pulls of megabytes.
			await text(`alter table screenings add column verdict text
				generated always as (json_extract(nullif(brief, ''), '$.verdict')) virtual`);
			await text(`create index screenings_newest on screenings(log_id, id, verdict, brief)`);
			await text(`drop index screenings_log`);
		}
	}
};
