/** Maxima since they were cleared, typed without a log. */
import { sql, type Kysely, type Migration } from 'kysely';

export const MAXIMA: Migration = {
	async up(db: Kysely<unknown>) {
		const text = (statement: string) => sql.raw(statement).execute(db);
		await text(`create table maxima_readings (
			id integer primary key, job_id integer not null references jobs(id) on delete cascade,
			revision_id integer not null references revisions(id) on delete cascade,
			document text not null, author text not null, created_at text not null)`);
		await text(`create index maxima_readings_job on maxima_readings(job_id)`);
		await text(`create index maxima_readings_revision on maxima_readings(revision_id)`);
		await text(`create trigger maxima_counted after insert on maxima_readings begin
			insert or replace into timeline (kind, ref) values ('maxima', new.id); end`);
	}
};
