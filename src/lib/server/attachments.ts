/** Closed files for the customer's flashing program: kept as they are, hashed, with the controller that they are for. */
import { InputError } from '../../core/input-error.ts';
import type { Vehicle } from '../../core/vehicle/document.ts';
import { nextId } from './db/ids.ts';
import type { Db } from './db/open.ts';
import { safeName, type StoredFile } from './files.ts';
import type { Revision } from './revisions.ts';

export interface Attachment {
	id: number;
	name: string;
	bytes: number;
	sha256: string;
	hardware: string;
	software: string;
}

export async function attachmentsOf(db: Db, revisionId: number): Promise<Attachment[]> {
	return db
		.selectFrom('attachments')
		.select(['id', 'name', 'bytes', 'sha256', 'hardware', 'software'])
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

/** Throws InputError unless a file for this controller may be attached; asked before the file is taken in. */
export function assertMayAttach(draft: Revision, vehicle: Vehicle, hardware: string, software: string): void {
	if (draft.state !== 'draft')
		throw new InputError(`R${draft.number} is released; nothing can be attached any more`);
	if (!hardware || !software)
		throw new InputError('say which controller hardware and software the file is for');
	const wrong = wrongController(vehicle, hardware, software);
	if (wrong) throw new InputError(`${wrong}. A file for the wrong controller never goes out`);
}

export async function attach(
	db: Db,
	draft: Revision,
	file: StoredFile,
	about: { name: string; hardware: string; software: string },
	now = new Date()
): Promise<void> {
	await db
		.insertInto('attachments')
		.values({
			id: await nextId(db, 'attachments'),
			revision_id: draft.id,
			name: safeName(about.name),
			bytes: file.bytes,
			sha256: file.sha256,
			hardware: about.hardware.trim(),
			software: about.software.trim(),
			created_at: now.toISOString()
		})
		.execute();
}

export async function removeAttachment(db: Db, draft: Revision, id: number): Promise<void> {
	if (draft.state !== 'draft') throw new InputError(`R${draft.number} is released; its files stay`);
	await db.deleteFrom('attachments').where('id', '=', id).where('revision_id', '=', draft.id).execute();
}
