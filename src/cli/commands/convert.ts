/** `tanto convert`: a log, or a calibration, in another form. */
import type { Calibration } from '../../core/calibration/document.ts';
import { findItem } from '../../core/calibration/lookup.ts';
import { toCdf } from '../../core/calibration/formats/cdf.ts';
import { allTablesCsv, isTable, tableCsv } from '../../core/calibration/formats/csv.ts';
import { OUT_FORMATS, type OutFormat } from '../../core/logfile/write.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { isCalibrationFile, readCalibration, readLogFile, readVehicle } from '../files.ts';
import { hintFrom, LAYOUT } from '../layout-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['to', 'vehicle', 'item', ...LAYOUT]);
	const [file, ...more] = w.positionals;
	if (!file || more.length) throw new UsageError('convert takes one file');
	const to = required(w, 'to');
	if (await isCalibrationFile(file))
		return convertCalibration(await readCalibration(file), to, single(w, 'item'));
	if (!Object.hasOwn(OUT_FORMATS, to))
		throw new UsageError(`--to ${to}: one of ${Object.keys(OUT_FORMATS).join(', ')}`);
	const vehicleFile = single(w, 'vehicle');
	const log = await readLogFile(file, vehicleFile ? await readVehicle(vehicleFile) : null, hintFrom(w));
	return { pieces: OUT_FORMATS[to as OutFormat].pieces(log) };
}

/** A calibration in another form; CSV of one table, or of all one after the other. */
function convertCalibration(calibration: Calibration, to: string, item: string | undefined): Answer {
	if (to === 'json') return { json: calibration };
	if (to === 'cdf') return { pieces: [toCdf(calibration)] };
	if (to !== 'csv') throw new UsageError(`--to ${to}: one of json, cdf, csv for a calibration`);
	if (item === undefined) return { pieces: [allTablesCsv(calibration)] };
	const table = findItem(calibration, item);
	if (!isTable(table))
		throw new UsageError(`--item ${item}: the calibration has no table or curve of that id`);
	return { pieces: [tableCsv(table)] };
}
