/** A log on the command line, with what was said of it: its layout, and the day and the seats of its sensors. */
import type { TypedMixture } from '../core/evidence/lambda/typed-vote.ts';
import { keptDutyOf, mixturesOf, parseReadings, type Readings } from '../core/evidence/readings.ts';
import type { Log } from '../core/logfile/log.ts';
import { parseConditions, vehicleOn } from '../core/vehicle/conditions.ts';
import type { Vehicle } from '../core/vehicle/document.ts';
import type { Words } from './args.ts';
import { readDocument, readLogFile } from './files.ts';
import { hintFrom } from './layout-words.ts';

/** Words that stand after the log that they belong to. */
export const BESIDE_LOG = ['conditions', 'readings'] as const;
/** Those that may stand there more than once. */
export const MANY_BESIDE_LOG = ['readings'] as const;

/** A log, and the vehicle and the air as they were for it. */
export async function readLogWith(
	w: Words,
	file: string,
	vehicle: Vehicle
): Promise<{
	log: Log;
	vehicle: Vehicle;
	ambientC: number | null;
	typed: TypedMixture[];
	keptDutyPct: number | null;
}> {
	const said = w.beside.get('conditions')?.get(file)?.[0];
	const conditions = said === undefined ? null : await readDocument(said, parseConditions);
	const then = vehicleOn(vehicle, conditions);
	const readings = await readingsWith(w, file);
	return {
		log: await readLogFile(file, then, hintFrom(w)),
		vehicle: then,
		ambientC: conditions?.ambientC ?? null,
		typed: readings.flatMap(mixturesOf),
		keptDutyPct: keptDutyOf(readings)
	};
}

/** What was typed beside a log: any number of documents. */
export const readingsWith = (w: Words, file: string): Promise<Readings[]> =>
	Promise.all((w.beside.get('readings')?.get(file) ?? []).map((name) => readDocument(name, parseReadings)));
