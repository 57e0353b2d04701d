/** Writes a stored log out. */
import { createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { outColumns, spanOf } from '../../../core/logfile/select.ts';
import { OUT_FORMATS } from '../../../core/logfile/write.ts';
import { InputError } from '../../../core/input-error.ts';
import { loadLog } from '../log-store.ts';
import type { ExportTask, ExportTaskResult } from './tasks.ts';
import { database, messageOf } from './shared.ts';

export async function exportLog(task: ExportTask): Promise<ExportTaskResult> {
	try {
		const log = spanOf(await loadLog(database(task.dataDir), task.logId), task.fromS, task.toS);
		if (log.rows === 0) throw new InputError('there is nothing in this span of the log');
		const out = createWriteStream(task.path);
		await pipeline(OUT_FORMATS[task.format].pieces(log, outColumns(log, task.units)), out);
		return { ok: true, rows: log.rows };
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}
