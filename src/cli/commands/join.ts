/** `tanto join`: a second recorder joins a log. */
import { joinLogs } from '../../core/logfile/join.ts';
import { csvOf } from '../../core/logfile/write.ts';
import type { Answer } from '../answer.ts';
import { single, UsageError, words } from '../args.ts';
import { readLogFile, readVehicle, writeOut } from '../files.ts';
import { hintFrom, LAYOUT } from '../layout-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['out', 'shared', 'vehicle', ...LAYOUT]);
	const [file, otherFile, ...more] = w.positionals;
	if (!file || !otherFile || more.length)
		throw new UsageError('join takes a log and the file of a second recorder');
	const shared = single(w, 'shared');
	if (shared !== undefined && shared !== 'rpm' && shared !== 'speed')
		throw new UsageError(`--shared ${shared}: rpm or speed`);
	const vehicleFile = single(w, 'vehicle');
	const vehicle = vehicleFile ? await readVehicle(vehicleFile) : null;
	const { log, ...answer } = joinLogs(
		await readLogFile(file, vehicle, hintFrom(w)),
		await readLogFile(otherFile, vehicle, hintFrom(w)),
		shared
	);
	const out = single(w, 'out');
	if (out) writeOut(out, [...csvOf(log)].join(''));
	return { json: answer };
}
