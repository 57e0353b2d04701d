/** `tanto plugs`: trims by cylinder from plugs, with what a log of the session says beside them. */
import { prepare } from '../../core/evidence/prepare.ts';
import { parsePlugs, refuseForeignCylinders } from '../../core/plugs/document.ts';
import { judgePlugs, KINDS, type Kind } from '../../core/plugs/judge.ts';
import { trimmed } from '../../core/plugs/trimmed.ts';
import { witnessesOf } from '../../core/plugs/witnesses.ts';
import { screenPrepared } from '../../core/screening/screen.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { readCalibration, readDocument, readLogFile, readVehicle, writeOut } from '../files.ts';
import { hintFrom, LAYOUT } from '../layout-words.ts';

/** @throws UsageError for a word that is no kind of evidence, or is named twice */
function rankFrom(text: string | undefined): readonly Kind[] {
	if (text === undefined) return KINDS;
	const named = text.split(',');
	for (const n of named)
		if (!KINDS.some((k) => k === n))
			throw new UsageError(`--rank ${text}: "${n}" is no kind of evidence; there are ${KINDS.join(', ')}`);
	if (new Set(named).size < named.length) throw new UsageError(`--rank ${text}: each kind once`);
	return [...(named as Kind[]), ...KINDS.filter((k) => !named.includes(k))];
}

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'log', 'rank', 'out', ...LAYOUT]);
	const [file, base, ...more] = w.positionals;
	if (!file || !base || more.length)
		throw new UsageError(
			'plugs takes the reading of the plugs and the calibration that they were driven with'
		);
	const rank = rankFrom(single(w, 'rank'));
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const plugs = await readDocument(file, (input) => {
		const read = parsePlugs(input);
		refuseForeignCylinders(read, vehicle.engine.cylinders);
		return read;
	});
	const calibration = await readCalibration(base);
	const logFile = single(w, 'log');
	const input = logFile
		? prepare(await readLogFile(logFile, vehicle, hintFrom(w)), { vehicle, calibrations: [calibration] })
		: null;
	const answer = judgePlugs({
		plugs,
		calibration,
		vehicle,
		rank,
		witnesses: input && witnessesOf({ input, findings: screenPrepared(input).findings })
	});
	const out = single(w, 'out');
	if (out) writeOut(out, `${JSON.stringify(trimmed(calibration, answer.changes), null, '\t')}\n`);
	return { json: answer };
}
