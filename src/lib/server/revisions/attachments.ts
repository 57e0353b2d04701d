/** Closed files for the customer's flashing program: kept as they are, hashed, with the controller that they are for. */
import { InputError } from '$core/input-error.ts';
import type { Vehicle } from '$core/vehicle/document.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import { safeName, type StoredFile } from '$lib/server/storage/files.ts';
import type { Revision } from './revisions.ts';

export interface Attachment {
	id: number;
	name: string;
	bytes: number;
	sha256: string;
	hardware: string;
	software: string;
	author: string;
	at: string;
}

export async function attachmentsOf(db: Db, revisionId: number): Promise<Attachment[]> {
	return db
		.selectFrom('attachments')
		.select(['id', 'name', 'bytes', 'sha256', 'hardware', 'software', 'author', 'created_at as at'])
		.where('revision_id', '=', revisionId)
		.orderBy('id')
		.execute();
}

/** Why a file for this controller must not go to this vehicle; `null` when it may. */
export function wrongController(vehicle: Vehicle, hardware: string, software: string): string | null {
	const { hardware: carHardware, software: carSoftware } = vehicle.controller ?? {};
	const differs = (a: string | undefined, b: string) =>
		a !== undefined && a.trim() !== '' && a.trim() !== b.trim();
	if (differs(carHardware, hardware))
		return `the file is for controller hardware "${hardware}", the vehicle has "${carHardware}"`;
	if (differs(carSoftware, software))
		return `the file is for controller software "${software}", the vehicle has "${carSoftware}"`;
	return null;
}

/** One word for the closed files of a revision, whatever their order. */
export async function filesSeen(db: Db, revisionId: number): Promise<string> {
	return (await attachmentsOf(db, revisionId)).map((r) => `${r.id}:${r.sha256.slice(0, 16)}`).join(' ');
}

/**
 * Throws InputError unless a file for this controller may be attached; asked before the file is taken in.
 * @param confirmed somebody has looked whether it holds what the tables say: asked of a file that comes after the release
 */
export function assertMayAttach(
	rev: Revision,
	vehicle: Vehicle,
	hardware: string,
	software: string,
	confirmed: boolean
): void {
	if (rev.state === 'baseline')
		throw new InputError('R0 is what the car came with; a file is attached to a revision');
	if (rev.state === 'released' && !confirmed)
		throw new InputError(
			`R${rev.number} is released: the file goes to the customer at once. Confirm that it holds what the tables say`
		);
	if (!hardware || !software)
		throw new InputError('say which controller hardware and software the file is for');
	const wrong = wrongController(vehicle, hardware, software);
	if (wrong) throw new InputError(`${wrong}. A file for the wrong controller never goes out`);
}

/**
 * Within a transaction. The same file for the same controller is attached once, however often it is sent.
 * @returns whether it is new
 */
export async function attach(
	db: Db,
	rev: Pick<Revision, 'id'>,
	file: StoredFile,
	about: { name: string; hardware: string; software: string; author: string },
	now = new Date()
): Promise<boolean> {
	const known = await db
		.selectFrom('attachments')
		.select('id')
		.where('revision_id', '=', rev.id)
		.where('sha256', '=', file.sha256)
		.where('name', '=', safeName(about.name))
		.where('hardware', '=', about.hardware.trim())
		.where('software', '=', about.software.trim())
		.executeTakeFirst();
	if (known) return false;
	await db
		.insertInto('attachments')
		.values({
			id: await nextId(db, 'attachments'),
			revision_id: rev.id,
			name: safeName(about.name),
			bytes: file.bytes,
			sha256: file.sha256,
			hardware: about.hardware.trim(),
			software: about.software.trim(),
			author: about.author,
			created_at: now.toISOString()
		})
		.execute();
	return true;
}

export async function removeAttachment(db: Db, draft: Revision, id: number): Promise<void> {
	if (draft.state !== 'draft') throw new InputError(`R${draft.number} is released; its files stay`);
	await db.deleteFrom('attachments').where('id', '=', id).where('revision_id', '=', draft.id).execute();
}
