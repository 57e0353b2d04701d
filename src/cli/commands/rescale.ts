/** `tanto rescale`: a calibration for other injectors, so that the engine gets the same fuel. */
import { rescale } from '../../core/fuelling/rescale.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { readCalibration, readVehicle, writeOut } from '../files.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'to', 'out']);
	const [file, ...more] = w.positionals;
	if (!file || more.length) throw new UsageError('rescale takes one calibration');
	const { next, ...answer } = rescale(
		await readCalibration(file),
		await readVehicle(required(w, 'vehicle')),
		await readVehicle(required(w, 'to'))
	);
	const out = single(w, 'out');
	if (out) writeOut(out, `${JSON.stringify(next, null, '\t')}\n`);
	return { json: answer };
}
