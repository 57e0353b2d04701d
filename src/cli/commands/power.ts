/** `tanto power`: power and torque of a log, typed, logged or from the road, and what was gained against another one. */
import { prepare } from '../../core/evidence/prepare.ts';
import { powerOf, powerSide, type PowerSide } from '../../core/performance/power-curves.ts';
import type { Vehicle } from '../../core/vehicle/document.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words, type Words } from '../args.ts';
import { readVehicle } from '../files.ts';
import { LAYOUT } from '../layout-words.ts';
import { BESIDE_LOG, MANY_BESIDE_LOG, readingsWith, readLogWith } from '../log-words.ts';

async function side(w: Words, file: string, vehicle: Vehicle): Promise<PowerSide> {
	const read = await readLogWith(w, file, vehicle);
	return powerSide(prepare(read.log, read), await readingsWith(w, file));
}

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'against', ...LAYOUT], {
		beside: BESIDE_LOG,
		many: MANY_BESIDE_LOG,
		files: ['against']
	});
	const [file, ...more] = w.positionals;
	if (!file || more.length)
		throw new UsageError('power takes one log; the one before it stands after --against');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const against = single(w, 'against');
	return {
		json: powerOf(await side(w, file, vehicle), against ? await side(w, against, vehicle) : null)
	};
}
