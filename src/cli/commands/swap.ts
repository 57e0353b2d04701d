/** `tanto swap`: what a difference of banks or cylinders moved with. */
import type { Calibration } from '../../core/calibration/document.ts';
import { parseSwap } from '../../core/swaps/document.ts';
import { judgeSwap } from '../../core/swaps/judge.ts';
import type { Answer } from '../answer.ts';
import { required, single, statedIndex, UsageError, words } from '../args.ts';
import { readCalibration, readDocument, readVehicle } from '../files.ts';
import { LAYOUT } from '../layout-words.ts';
import { BESIDE_LOG, MANY_BESIDE_LOG, readLogWith } from '../log-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'swap', 'calibration', 'stated', 'stated-after', ...LAYOUT], {
		beside: BESIDE_LOG,
		many: MANY_BESIDE_LOG
	});
	const [before, after, back, ...more] = w.positionals;
	if (!before || !after || more.length)
		throw new UsageError(
			'swap takes the log before, the log after and, where there is one, the log with everything back'
		);
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const swap = await readDocument(required(w, 'swap'), parseSwap);
	const calibrations: Calibration[] = [];
	for (const c of w.options.get('calibration') ?? []) calibrations.push(await readCalibration(c));
	const stated = statedIndex(single(w, 'stated'), 'stated', calibrations.length);
	const statedAfter = statedIndex(
		single(w, 'stated-after') ?? single(w, 'stated'),
		'stated-after',
		calibrations.length
	);
	const read = async (file: string, index: number) => {
		const { log, ...then } = await readLogWith(w, file, vehicle);
		return { log, context: { ...then, calibrations, stated: index } };
	};
	return {
		json: judgeSwap(
			swap,
			await read(before, stated),
			await read(after, statedAfter),
			back ? await read(back, statedAfter) : undefined
		)
	};
}
