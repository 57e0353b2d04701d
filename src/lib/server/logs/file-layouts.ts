/** How a customer's files are laid out, where a person had to say it: kept for the next file of the kind. */
import { layoutHintSchema, type LayoutHint } from '$core/logfile/layout-hint.ts';
import type { Db } from '$lib/server/db/open.ts';

/** Layouts that were said of a customer's files, the newest first. */
export async function layoutsOf(db: Db, customerId: number): Promise<LayoutHint[]> {
	const rows = await db
		.selectFrom('layouts')
		.select('document')
		.where('customer_id', '=', customerId)
		.orderBy('created_at', 'desc')
		.execute();
	return rows.map((r) => layoutHintSchema.parse(JSON.parse(r.document)));
}

export async function rememberLayout(
	db: Db,
	customerId: number,
	hint: LayoutHint,
	now = new Date()
): Promise<void> {
	const created_at = now.toISOString();
	await db
		.insertInto('layouts')
		.values({ customer_id: customerId, document: JSON.stringify(layoutHintSchema.parse(hint)), created_at })
		.onConflict((c) => c.columns(['customer_id', 'document']).doUpdateSet({ created_at }))
		.execute();
}
