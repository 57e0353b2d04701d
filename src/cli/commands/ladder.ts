/** `tanto ladder`: the next rung towards the goal, its gates and its changes. */
import { ladderOf } from '../../core/climbing/ladder.ts';
import { prepare } from '../../core/evidence/prepare.ts';
import { parseGoal } from '../../core/fuelling/goal.ts';
import { parsePlugs } from '../../core/plugs/document.ts';
import { judgePlugs } from '../../core/plugs/judge.ts';
import { screenPrepared } from '../../core/screening/screen.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { readCalibration, readDocument, readVehicle } from '../files.ts';
import { LAYOUT } from '../layout-words.ts';
import { BESIDE_LOG, MANY_BESIDE_LOG, readLogWith } from '../log-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'goal', 'plugs', ...LAYOUT], {
		beside: BESIDE_LOG,
		many: MANY_BESIDE_LOG
	});
	const [base, ...files] = w.positionals;
	if (!base || files.length === 0)
		throw new UsageError('ladder takes the calibration in the car and at least one log made with it');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const goal = await readDocument(required(w, 'goal'), parseGoal);
	const calibration = await readCalibration(base);
	const plugFile = single(w, 'plugs');
	const document = plugFile ? await readDocument(plugFile, parsePlugs) : null;
	const logs = [];
	for (const f of files) {
		const { log, ...then } = await readLogWith(w, f, vehicle);
		const input = prepare(log, { ...then, calibrations: [calibration] });
		logs.push({ input, report: screenPrepared(input) });
	}
	return {
		json: ladderOf({
			calibration,
			logs,
			vehicle,
			goal,
			plugs: document && { document, answer: judgePlugs({ plugs: document, calibration, vehicle }) }
		})
	};
}
