/** Writes a stored log out. */
import { createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { outColumns, spanOf } from '$core/logfile/select.ts';
import { OUT_FORMATS, type OutFormat } from '$core/logfile/write.ts';
import { InputError } from '$core/input-error.ts';
import type { UnitChoice } from '$core/units/display.ts';
import { loadLog } from '$lib/server/logs/log-store.ts';
import { task, type Place } from './task.ts';

export interface ExportTask extends Place {
	logId: number;
	format: OutFormat;
	fromS: number;
	toS: number;
	units: UnitChoice;
	/** Where the file is written. */
	path: string;
}

export const exportLog = task(async ({ logId, format, fromS, toS, units, path }: ExportTask, db) => {
	const log = spanOf(await loadLog(db, logId), fromS, toS);
	if (log.rows === 0) throw new InputError('there is nothing in this span of the log');
	await pipeline(OUT_FORMATS[format].pieces(log, outColumns(log, units)), createWriteStream(path));
	return { rows: log.rows };
});
