/** From the columns of a screening on. */
import { sql, type Kysely, type Migration } from 'kysely';
import type { Report } from '$core/screening/report.ts';
import { briefOf } from '$core/screening/brief.ts';

export const FROM_011: Record<string, Migration> = {
	'011-more-of-a-screening': {
		async up(db: Kysely<unknown>) {
			// What lists need of a screening has more in it: notes, values, pulls.
			const rows = await sql<{ id: number; report: string }>`select id, report from screenings`.execute(db);
			for (const { id, report } of rows.rows) {
				const brief = JSON.stringify(briefOf(JSON.parse(report) as Report));
				await sql`update screenings set brief = ${brief} where id = ${id}`.execute(db);
			}
		}
	},
	'012-evidence': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table hardware_changes (
				id integer primary key, job_id integer not null references jobs(id), what text not null, at text not null,
				author text not null, created_at text not null)`);
			await text(`create index hardware_changes_job on hardware_changes(job_id)`);
			await text(`create trigger hardware_counted after insert on hardware_changes begin
				insert or replace into timeline (kind, ref) values ('hardware', new.id); end`);
			await text(`alter table revisions add column rejected text not null default '[]'`);
			await text(`alter table logs add column left_out text`);
			await text(`alter table logs add column left_out_by text`);
			await text(`create table log_fields (
				log_id integer primary key references logs(id) on delete cascade, screening_id integer not null, result text not null)`);
		}
	},
	'013-tables-from-the-own-program': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table table_layouts (
				id integer primary key, name text not null, hardware text not null, software text not null,
				fuel_model text not null, document text not null, updated_at text not null)`);
			await text(
				`alter table jobs add column layout_id integer references table_layouts(id) on delete set null`
			);
			await text(`create table table_proofs (
				id integer primary key, revision_id integer not null references revisions(id) on delete cascade,
				item text not null, content_hash text not null, text_hash text not null, match integer not null,
				verified integer not null, result text not null, author text not null, created_at text not null)`);
			await text(`create index table_proofs_revision on table_proofs(revision_id)`);
			// R0 is completed table by table: it is frozen by the first revision that is made from it.
			await text(`drop trigger revisions_frozen`);
			await text(`create trigger revisions_frozen before update on revisions
				when old.state = 'released' or (old.state = 'baseline' and (new.state != 'baseline'
					or exists (select 1 from revisions r where r.job_id = old.job_id and r.id != old.id)))
				begin select raise(abort, 'a released revision cannot be changed'); end`);
		}
	},
	'014-proofs-of-files': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`alter table table_proofs add column files text not null default ''`);
			await text(`alter table attachments add column author text not null default ''`);
			// Until now a proof was of whatever was attached: those that are there keep what they proved.
			await text(`update table_proofs set files = coalesce((select group_concat(f, ' ') from
				(select a.id || ':' || substr(a.sha256, 1, 16) as f from attachments a
				where a.revision_id = table_proofs.revision_id order by a.id)), '')`);
		}
	},
	'015-endings': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`alter table jobs add column archived_at text`);
			await text(`alter table logs add column taken_out text`);
			await text(`alter table logs add column taken_out_by text`);
			await text(`alter table links add column sealed text`);
			// A released revision stays, but for a customer who leaves with everything: their jobs are named first.
			await text(`create table leaving (job_id integer primary key)`);
			await text(`drop trigger revisions_kept`);
			await text(`create trigger revisions_kept before delete on revisions
				when old.state in ('baseline', 'released') and not exists (select 1 from leaving l where l.job_id = old.job_id)
				begin select raise(abort, 'a released revision cannot be deleted'); end`);
		}
	},
	'016-apprentices': {
		async up(db: Kysely<unknown>) {
			await sql.raw(`alter table invitations add column role text not null default 'tuner'`).execute(db);
		}
	},
	'017-finding-the-cause': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table swap_tests (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade, finding text not null,
				document text not null, request_id integer references requests(id) on delete set null,
				before_log integer not null references logs(id) on delete cascade,
				after_log integer references logs(id) on delete set null,
				back_log integer references logs(id) on delete set null,
				answer text, author text not null, created_at text not null)`);
			await text(`create index swap_tests_job on swap_tests(job_id)`);
			await text(`create table plug_readings (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade,
				revision_id integer not null references revisions(id) on delete cascade,
				log_id integer references logs(id) on delete set null,
				document text not null, author text not null, created_at text not null)`);
			await text(`create index plug_readings_job on plug_readings(job_id)`);
			for (const [name, table, kind] of [
				['swaps_counted', 'swap_tests', 'swap'],
				['plugs_counted', 'plug_readings', 'plugs']
			] as const)
				await text(`create trigger ${name} after insert on ${table} begin
					insert or replace into timeline (kind, ref) values ('${kind}', new.id); end`);
		}
	},
	'018-goals-in-numbers': {
		async up(db: Kysely<unknown>) {
			await sql.raw(`alter table jobs add column goal text`).execute(db);
		}
	},
	'019-stages-fills-and-readings': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`alter table hardware_changes add column injectors integer not null default 0`);
			await text(`create table stage_calls (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade, kind text not null,
				words text not null, author text not null, created_at text not null)`);
			await text(`create index stage_calls_job on stage_calls(job_id)`);
			await text(`create table fills (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade, at text not null,
				ethanol_pct real, octane_ron real, source text not null, words text not null,
				author text not null, created_at text not null)`);
			await text(`create index fills_job on fills(job_id)`);
			await text(`create table typed_readings (
				id integer primary key, job_id integer not null references jobs(id) on delete cascade,
				log_id integer not null references logs(id) on delete cascade,
				document text not null, author text not null, created_at text not null)`);
			await text(`create index typed_readings_log on typed_readings(log_id)`);
			for (const [name, table, kind] of [
				['stages_counted', 'stage_calls', 'stage'],
				['fills_counted', 'fills', 'fill']
			] as const)
				await text(`create trigger ${name} after insert on ${table} begin
					insert or replace into timeline (kind, ref) values ('${kind}', new.id); end`);
		}
	},
	'020-inspection': {
		async up(db: Kysely<unknown>) {
			// Called by the field's own word.
			await db.schema.alterTable('lookover').renameTo('inspection').execute();
		}
	},
	'021-what-the-customer-gets': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table workshop (key text primary key, value text not null)`);
			// No row for what was released before: of those the customer gets the closed file, if there is one.
			await text(`create table handed_tables (
				revision_id integer primary key references revisions(id) on delete cascade,
				author text not null, created_at text not null)`);
		}
	},
	'022-answers-at-a-severity': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			// An answer covers what is no graver than what was answered; of older ones their log still says how grave that was.
			await text(`alter table finding_answers add column severity text`);
			await text(`update finding_answers set severity = (
				select json_extract(f.value, '$.severity') from screenings s, json_each(nullif(s.brief, ''), '$.findings') f
				where s.log_id = finding_answers.log_id and json_extract(f.value, '$.key') = finding_answers.key
				order by s.id desc limit 1)`);
		}
	},
	'023-conditions-of-a-log': {
		async up(db: Kysely<unknown>) {
			await sql.raw(`alter table logs add column conditions text`).execute(db);
		}
	},
	'024-mails-handed-over': {
		async up(db: Kysely<unknown>) {
			await sql.raw(`alter table mails add column handed_at text`).execute(db);
		}
	},
	'025-a-job-has-a-tuner': {
		async up(db: Kysely<unknown>) {
			// The name stands beside the account: lists need no other table for it.
			for (const column of ['tuner_id', 'tuner_name'])
				await sql.raw(`alter table jobs add column ${column} text`).execute(db);
		}
	},
	'026-second-recorders': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			await text(`create table second_recorders (
				id integer primary key, log_id integer not null references logs(id) on delete cascade,
				name text not null, bytes integer not null, sha256 text not null, answer text not null,
				author text not null, created_at text not null)`);
			await text(`create unique index second_recorders_log on second_recorders(log_id, sha256)`);
			await text(`create index second_recorders_file on second_recorders(sha256)`);
		}
	},
	'027-practice': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			// The stand-in is a customer like any other, apart from this word: no list of real work has it.
			await text(`alter table customers add column practice integer not null default 0`);
			await text(`create table practice_sessions (
				id integer primary key, job_id integer not null unique references jobs(id) on delete cascade,
				level integer not null, seed integer not null, account text not null,
				state text not null, created_at text not null, ended_at text)`);
		}
	},
	'028-findings-searchable': {
		async up(db: Kysely<unknown>) {
			const text = (statement: string) => sql.raw(statement).execute(db);
			// Of the newest screening of each log: the database itself keeps them in step, whoever screens. What a finding lacks never fails a screening.
			await text(`create table findings (
				log_id integer not null references logs(id) on delete cascade, key text not null, code text not null,
				severity text not null, title text not null, value real, unit text, bank integer, cylinder integer,
				rpm_low real, rpm_high real)`);
			await text(`create index findings_code on findings(code, value)`);
			await text(`create index findings_log on findings(log_id)`);
			const rows = (screening: string) => `insert into findings
				select ${screening}.log_id, coalesce(b.value ->> '$.key', ''), coalesce(f.value ->> '$.code', ''), coalesce(f.value ->> '$.severity', 'note'),
					coalesce(f.value ->> '$.said.title', f.value ->> '$.title', f.value ->> '$.code', ''), f.value ->> '$.value', f.value ->> '$.unit', f.value ->> '$.bank',
					f.value ->> '$.cylinder', f.value ->> '$.region.rpm[0]', f.value ->> '$.region.rpm[1]'
				from json_each(${screening}.report, '$.findings') f
				left join json_each(nullif(${screening}.brief, ''), '$.findings') b on b.key = f.key`;
			await text(`create trigger findings_kept after insert on screenings begin
				delete from findings where log_id = new.log_id;
				${rows('new')};
				end`);
			await text(
				rows('s').replace(
					'from json_each',
					'from (select * from screenings o where o.id = (select max(id) from screenings where log_id = o.log_id)) s, json_each'
				)
			);
		}
	}
};
