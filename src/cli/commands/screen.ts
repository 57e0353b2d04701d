/** `tanto screen`: the report of one log. */
import { screen } from '../../core/screening/screen.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { readCalibration, readLogFile, readRequest, readVehicle } from '../files.ts';
import { hintFrom, LAYOUT } from '../layout-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'calibration', 'stated', 'request', ...LAYOUT]);
	const [file, ...more] = w.positionals;
	if (!file || more.length) throw new UsageError('screen takes one log');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const calibrations = [];
	for (const c of w.options.get('calibration') ?? []) calibrations.push(await readCalibration(c));
	const stated = single(w, 'stated');
	const index = stated === undefined ? calibrations.length - 1 : Number(stated);
	if (stated !== undefined && !(Number.isInteger(index) && index >= 0 && index < calibrations.length))
		throw new UsageError(
			`--stated ${stated}: a number from 0 to ${calibrations.length - 1} (the calibrations given, oldest first)`
		);
	const requestFile = single(w, 'request');
	const request = requestFile ? await readRequest(requestFile) : null;
	const log = await readLogFile(file, vehicle, hintFrom(w));
	return { json: screen(log, { vehicle, calibrations, stated: index, request }) };
}
