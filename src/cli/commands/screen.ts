/** `tanto screen`: the report of one log. */
import { screen } from '../../core/screening/screen.ts';
import type { Answer } from '../answer.ts';
import { required, single, statedIndex, UsageError, words } from '../args.ts';
import { readCalibration, readRequest, readVehicle } from '../files.ts';
import { LAYOUT } from '../layout-words.ts';
import { BESIDE_LOG, MANY_BESIDE_LOG, readLogWith } from '../log-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'calibration', 'stated', 'request', ...LAYOUT], {
		beside: BESIDE_LOG,
		many: MANY_BESIDE_LOG
	});
	const [file, ...more] = w.positionals;
	if (!file || more.length) throw new UsageError('screen takes one log');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const calibrations = [];
	for (const c of w.options.get('calibration') ?? []) calibrations.push(await readCalibration(c));
	const index = statedIndex(single(w, 'stated'), 'stated', calibrations.length);
	const requestFile = single(w, 'request');
	const request = requestFile ? await readRequest(requestFile) : null;
	const { log, ...then } = await readLogWith(w, file, vehicle);
	return { json: screen(log, { ...then, calibrations, stated: index, request }) };
}
