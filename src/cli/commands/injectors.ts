/** `tanto injectors`: how far injectors and pump go, from figures or from a log. */
import { prepare } from '../../core/evidence/prepare.ts';
import { demandFromFigures, demandFromLog } from '../../core/fuelling/demand.ts';
import { parseGoal } from '../../core/fuelling/goal.ts';
import { planFuel } from '../../core/fuelling/plan.ts';
import { profileOf } from '../../core/limits/profile.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { readDocument, readVehicle } from '../files.ts';
import { LAYOUT } from '../layout-words.ts';
import { BESIDE_LOG, MANY_BESIDE_LOG, readLogWith } from '../log-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'goal', 'log', ...LAYOUT], {
		beside: BESIDE_LOG,
		many: MANY_BESIDE_LOG,
		files: ['log']
	});
	if (w.positionals.length)
		throw new UsageError('injectors takes its documents by name: --vehicle and --goal');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const goal = await readDocument(required(w, 'goal'), parseGoal);
	const file = single(w, 'log');
	const read = file ? await readLogWith(w, file, vehicle) : null;
	const demand = read
		? demandFromLog(prepare(read.log, read), goal)
		: demandFromFigures(vehicle, goal, profileOf(vehicle.limits));
	return {
		json: planFuel(demand, goal, vehicle.injectors?.flowCcMin ?? null, vehicle.fuel?.ethanolPct ?? 0)
	};
}
