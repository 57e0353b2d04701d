/**
 * What belongs to a customer, read from the foreign keys of the database itself: a table that is added later is in the record and in the deletion without
 * being put on any list.
 */
import { sql } from 'kysely';
import type { Db } from '$lib/server/db/open.ts';

export interface Reference {
	table: string;
	column: string;
	parent: string;
}

/** A table of a customer, and the condition by which a row of it is theirs. */
export interface Belonging {
	table: string;
	/** Of the table that it hangs on. */
	column: string;
	parent: string;
}

const ROOT = 'customers';
/** A row that hangs on several hangs on the job first: that is there in every row that has it. */
const NEAREST = ['jobs', 'customers', 'revisions', 'logs'];

/** Foreign keys of the database. */
export async function references(db: Db): Promise<Reference[]> {
	const { rows } = await sql<Reference>`
		select m.name as "table", f."from" as "column", f."table" as parent
		from sqlite_master m, pragma_foreign_key_list(m.name) f where m.type = 'table'`.execute(db);
	return rows;
}

const rank = (parent: string) => {
	const at = NEAREST.indexOf(parent);
	return at < 0 ? NEAREST.length : at;
};

/**
 * Tables whose rows belong to customers, every one before those that refer to it.
 * @returns `customers` first; deleting goes through them from the end
 */
export async function belongings(db: Db): Promise<Belonging[]> {
	const all = await references(db);
	const chosen = new Map<string, Belonging>([[ROOT, { table: ROOT, column: 'id', parent: ROOT }]]);
	for (let before = 0; before !== chosen.size;) {
		before = chosen.size;
		for (const { table, column, parent } of all) {
			if (!chosen.has(parent) || table === ROOT) continue;
			const known = chosen.get(table);
			// The job of a row, where it has one, whichever of its references was met first.
			if (!known || (table !== parent && rank(parent) < rank(known.parent)))
				chosen.set(table, { table, column, parent });
		}
	}
	const refers = (table: string) =>
		all.filter((r) => r.table === table && r.parent !== table && chosen.has(r.parent)).map((r) => r.parent);
	const ordered: Belonging[] = [];
	const place = (table: string, way: readonly string[]) => {
		if (way.includes(table)) throw new Error(`foreign keys go in a circle: ${[...way, table].join(' → ')}`);
		if (ordered.some((b) => b.table === table)) return;
		for (const parent of refers(table)) place(parent, [...way, table]);
		ordered.push(chosen.get(table)!);
	};
	for (const table of chosen.keys()) place(table, []);
	return ordered;
}

/** All of a customer, or one job with the customer and the vehicle that it is of. */
export interface Scope {
	of: 'customer' | 'job';
	id: number;
}

/** Of a job's customer and vehicle the job's own row names the one row. */
const NAMED_BY_JOB: Readonly<Record<string, string>> = { customers: 'customer_id', vehicles: 'vehicle_id' };

/** The rows of a table within a scope, as a condition over it. */
export function within(
	all: readonly Belonging[],
	table: string,
	scope: Scope
): ReturnType<typeof sql<boolean>> {
	if (table === (scope.of === 'job' ? 'jobs' : ROOT))
		return sql<boolean>`${sql.ref(`${table}.id`)} = ${scope.id}`;
	const named = scope.of === 'job' ? NAMED_BY_JOB[table] : undefined;
	if (named)
		return sql<boolean>`${sql.ref(`${table}.id`)} in (select ${sql.ref(named)} from jobs where id = ${scope.id})`;
	const { column, parent } = all.find((b) => b.table === table)!;
	return sql<boolean>`${sql.ref(`${table}.${column}`)} in (select id from ${sql.table(parent)} where ${within(all, parent, scope)})`;
}
