/** `tanto revise`: a proposal from logs, and the calibration with it. */
import { prepare } from '../../core/evidence/prepare.ts';
import { propose, withChanges } from '../../core/revising/revise.ts';
import { screenPrepared } from '../../core/screening/screen.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { readCalibration, readLogFile, readVehicle, writeOut } from '../files.ts';
import { hintFrom, LAYOUT } from '../layout-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'out', ...LAYOUT]);
	const [file, ...logs] = w.positionals;
	if (!file || logs.length === 0) throw new UsageError('revise takes a calibration and at least one log');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const calibration = await readCalibration(file);
	const evidence = [];
	for (const l of logs) {
		const input = prepare(await readLogFile(l, vehicle, hintFrom(w)), {
			vehicle,
			calibrations: [calibration]
		});
		evidence.push({ input, findings: screenPrepared(input).findings });
	}
	const proposal = propose(evidence);
	const out = single(w, 'out');
	if (out) writeOut(out, `${JSON.stringify(withChanges(calibration, proposal.changes), null, '\t')}\n`);
	return { json: proposal };
}
