/** `tanto replay`: what a log would have shown with the next calibration. */
import { prepare } from '../../core/evidence/prepare.ts';
import { replay } from '../../core/revising/replay.ts';
import type { Answer } from '../answer.ts';
import { required, UsageError, words } from '../args.ts';
import { readCalibration, readLogFile, readVehicle } from '../files.ts';
import { hintFrom, LAYOUT } from '../layout-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', ...LAYOUT]);
	const [file, nextFile, log, ...more] = w.positionals;
	if (!file || !nextFile || !log || more.length)
		throw new UsageError('replay takes a calibration, the next one, and a log made with the first');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const calibration = await readCalibration(file);
	const next = await readCalibration(nextFile);
	const input = prepare(await readLogFile(log, vehicle, hintFrom(w)), {
		vehicle,
		calibrations: [calibration]
	});
	return { json: replay(input, next) };
}
