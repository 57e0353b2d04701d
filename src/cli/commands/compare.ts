/** `tanto compare`: what is different between two calibrations. */
import { compare } from '../../core/calibration/compare.ts';
import { assumedBaroKpa } from '../../core/vehicle/facts.ts';
import type { Answer } from '../answer.ts';
import { single, UsageError, words } from '../args.ts';
import { readCalibration, readVehicle } from '../files.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle']);
	const [a, b, ...more] = w.positionals;
	if (!a || !b || more.length) throw new UsageError('compare takes two calibrations');
	const vehicleFile = single(w, 'vehicle');
	const baroKpa = vehicleFile ? assumedBaroKpa(await readVehicle(vehicleFile)) : undefined;
	return { json: compare(await readCalibration(a), await readCalibration(b), baroKpa) };
}
