/** What a customer needs to record with a controller's own program: short steps, and files for it. */
import { sql, type Kysely, type Migration } from 'kysely';

export const RECORDING_KITS: Migration = {
	async up(db: Kysely<unknown>) {
		const text = (statement: string) => sql.raw(statement).execute(db);
		await text(`create table recording_kits (
			layout_id integer primary key references table_layouts(id) on delete cascade,
			steps text not null, author text not null, updated_at text not null)`);
		await text(`create table kit_files (
			id integer primary key, layout_id integer not null references table_layouts(id) on delete cascade,
			name text not null, bytes integer not null, sha256 text not null, author text not null, created_at text not null)`);
		await text(`create index kit_files_layout on kit_files(layout_id)`);
		await text(`create index kit_files_file on kit_files(sha256)`);
	}
};
