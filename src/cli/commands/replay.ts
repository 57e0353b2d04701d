/** `tanto replay`: what a log would have shown with the next calibration. */
import { prepare } from '../../core/evidence/prepare.ts';
import { replay } from '../../core/revising/replay.ts';
import type { Answer } from '../answer.ts';
import { required, UsageError, words } from '../args.ts';
import { readCalibration, readVehicle } from '../files.ts';
import { LAYOUT } from '../layout-words.ts';
import { BESIDE_LOG, MANY_BESIDE_LOG, readLogWith } from '../log-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', ...LAYOUT], { beside: BESIDE_LOG, many: MANY_BESIDE_LOG });
	const [file, nextFile, logFile, ...more] = w.positionals;
	if (!file || !nextFile || !logFile || more.length)
		throw new UsageError('replay takes a calibration, the next one, and a log made with the first');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const calibration = await readCalibration(file);
	const next = await readCalibration(nextFile);
	const { log, ...then } = await readLogWith(w, logFile, vehicle);
	const input = prepare(log, { ...then, calibrations: [calibration] });
	return { json: replay(input, next) };
}
