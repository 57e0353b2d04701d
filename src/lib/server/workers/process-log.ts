/** Reads a received log, screens it and stores what came of it, whole or not at all. */
import { briefOf } from '../../../core/screening/brief.ts';
import { prepare } from '../../../core/evidence/prepare.ts';
import { LayoutError } from '../../../core/logfile/layout-error.ts';
import { readLogAsync } from '../../../core/logfile/read.ts';
import { correctionCells } from '../../../core/evidence/cells/correction-map.ts';
import { cylinderLevels } from '../../../core/screening/cylinder-levels.ts';
import { levelsOf } from '../../../core/screening/levels.ts';
import { CHECKS_VERSION, screenPrepared } from '../../../core/screening/screen.ts';
import { pullCurves } from '../../../core/evidence/segments/pull-curves.ts';
import { contextOf } from '../log-context.ts';
import { dropRuns, storeColumns } from '../store-columns.ts';
import { isFull } from '../room.ts';
import { forgetScreenings } from '../screenings.ts';
import { readContextOf } from '../../../core/vehicle/document.ts';
import { openFile } from '../files.ts';
import type { Log } from '../../../core/logfile/log.ts';
import type { LogQuestion } from '../logs.ts';
import type { LogTask, LogTaskResult } from './tasks.ts';
import { database, messageOf } from './shared.ts';

const CHUNK = 1 << 20;

/** Columns that two units fit, for a person to decide. */
function questionsOf(log: Log): LogQuestion[] {
	return log.channels.flatMap((c) =>
		c.undecided ? [{ ...c.undecided, channel: c.id, raw: c.raw, rawUnit: c.rawUnit, unit: c.unit }] : []
	);
}

export async function processLog({ dataDir, logId }: LogTask): Promise<LogTaskResult> {
	const db = database(dataDir);
	try {
		const context = await contextOf(db, logId);
		const total = context.log.bytes;
		let read = 0;
		let told = 0;
		async function* chunks() {
			for await (const chunk of openFile(dataDir, context.log.sha256, CHUNK)) {
				const bytes = chunk as Uint8Array;
				read += bytes.length;
				const percent = Math.floor((100 * read) / total);
				if (percent >= told + 10) {
					told = percent;
					await db.updateTable('logs').set({ progress: percent }).where('id', '=', logId).execute();
				}
				yield bytes;
			}
		}
		const log = await readLogAsync(chunks(), {
			...readContextOf(context.vehicle),
			remembered: context.remembered,
			bytes: context.log.bytes,
			hint: context.hint,
			layouts: context.layouts
		});
		const input = prepare(log, context);
		const report = screenPrepared(input);
		const run = await storeColumns(db, logId, log);
		await db.transaction().execute(async (trx) => {
			await trx
				.insertInto('screenings')
				.values({
					log_id: logId,
					version: CHECKS_VERSION,
					profile: JSON.stringify(input.profile),
					report: JSON.stringify(report),
					cells: JSON.stringify(correctionCells(input)),
					pulls: JSON.stringify(pullCurves(input)),
					unmapped: JSON.stringify(log.unmapped.filter((u) => !u.private)),
					brief: JSON.stringify({
						...briefOf(report),
						levels: levelsOf(input),
						cylinders: cylinderLevels(input)
					}),
					created_at: new Date().toISOString()
				})
				.execute();
			await trx
				.updateTable('logs')
				.set({
					state: 'screened',
					run,
					progress: 100,
					message: null,
					seen: null,
					rows: log.rows,
					duration_s: log.durationS,
					time_faults: JSON.stringify(log.timeFaults),
					questions: JSON.stringify(questionsOf(log))
				})
				.where('id', '=', logId)
				.execute();
		});
		await dropRuns(db, logId);
		await forgetScreenings(db, logId);
		return { ok: true };
	} catch (e) {
		if (isFull(e)) return { ok: false, full: true };
		return { ok: false, message: messageOf(e), seen: e instanceof LayoutError ? e.seen : null };
	}
}
