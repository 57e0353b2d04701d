/** R0, the calibration as it came: completed table by table, and replaced, until something was released from it. */
import { parseCalibration, type Calibration, type Item } from '../../core/calibration/document.ts';
import { InputError } from '../../core/input-error.ts';
import type { App } from './context.ts';
import type { Db } from './db/open.ts';
import { logsOf, readAgain } from './logs.ts';
import { contentHash, revision, revisionsOf, type Revision } from './revisions.ts';

/** Why R0 of a job can't be changed any more; empty where it can. */
export async function whyFrozen(db: Db, jobId: number): Promise<string> {
	const lines = await revisionsOf(db, jobId);
	const released = lines.find((l) => l.state === 'released');
	if (released) return `R${released.number} was released from it`;
	const draft = lines.find((l) => l.state === 'draft');
	return draft ? `R${draft.number} is a draft from it: release or discard it first` : '';
}

export async function baselineOf(db: Db, jobId: number): Promise<Revision> {
	const line = (await revisionsOf(db, jobId)).find((l) => l.state === 'baseline')!;
	return (await revision(db, line.id))!;
}

/** Stores another R0 and screens the job's logs again: they are judged by it. */
export async function replaceBaseline(app: App, jobId: number, calibration: Calibration): Promise<void> {
	const { db } = app;
	const frozen = await whyFrozen(db, jobId);
	if (frozen) throw new InputError(`R0 can't be changed any more: ${frozen}`);
	const next = parseCalibration(calibration);
	const baseline = await baselineOf(db, jobId);
	await db
		.updateTable('revisions')
		.set({ document: JSON.stringify(next), content_hash: contentHash(next) })
		.where('id', '=', baseline.id)
		.where('state', '=', 'baseline')
		.execute();
	for (const log of await logsOf(db, jobId))
		if (log.state === 'screened' || log.state === 'failed') await readAgain(app, log.id);
}

/** Puts items into R0: those of the same id are replaced, others come at the end. */
export async function putItems(app: App, jobId: number, items: readonly Item[]): Promise<void> {
	const { calibration } = await baselineOf(app.db, jobId);
	await replaceBaseline(app, jobId, {
		...calibration,
		items: [
			...calibration.items.map((i) => items.find((n) => n.id === i.id) ?? i),
			...items.filter((n) => !calibration.items.some((i) => i.id === n.id))
		]
	});
}

export async function dropItem(app: App, jobId: number, id: string): Promise<void> {
	const { calibration } = await baselineOf(app.db, jobId);
	await replaceBaseline(app, jobId, { ...calibration, items: calibration.items.filter((i) => i.id !== id) });
}
