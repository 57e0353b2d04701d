/** `tanto revise`: a proposal from logs, and the calibration with it. */
import { requirementCsv } from '../../core/correction/export.ts';
import { DEFAULT_STRATEGY } from '../../core/correction/strategy.ts';
import { prepare } from '../../core/evidence/prepare.ts';
import { proposeWith } from '../../core/revising/revise.ts';
import { withChanges } from '../../core/revising/changes.ts';
import { screenPrepared } from '../../core/screening/screen.ts';
import type { Answer } from '../answer.ts';
import { required, single, UsageError, words } from '../args.ts';
import { readCalibration, readVehicle, writeOut } from '../files.ts';
import { LAYOUT } from '../layout-words.ts';
import { BESIDE_LOG, MANY_BESIDE_LOG, readLogWith } from '../log-words.ts';

export async function run(args: string[]): Promise<Answer> {
	const w = words(args, ['vehicle', 'out', 'requirement', ...LAYOUT], {
		flags: ['cautious'],
		gathers: 'with',
		beside: BESIDE_LOG,
		many: MANY_BESIDE_LOG
	});
	const [file, ...logs] = w.positionals;
	if (!file || logs.length + w.groups.flatMap((g) => g.words).length === 0)
		throw new UsageError('revise takes a calibration and at least one log');
	for (const g of w.groups)
		if (g.words.length === 0) throw new UsageError('--with takes an older calibration and at least one log');
	const vehicle = await readVehicle(required(w, 'vehicle'));
	const base = await readCalibration(file);
	const olders = await Promise.all(w.groups.map((g) => readCalibration(g.value)));
	// Given from the newest to the oldest: the revision itself, then those before it.
	const calibrations = [...olders.toReversed(), base];
	const evidence = [];
	const made = [
		{ calibration: base, files: logs },
		...w.groups.map((g, n) => ({ calibration: olders[n]!, files: g.words }))
	];
	for (const { calibration, files } of made)
		for (const l of files) {
			const { log, ...then } = await readLogWith(w, l, vehicle);
			const input = prepare(log, {
				...then,
				calibrations,
				stated: calibrations.indexOf(calibration)
			});
			evidence.push({ input, findings: screenPrepared(input).findings });
		}
	const strategy = { ...DEFAULT_STRATEGY, cautious: w.flags.has('cautious') };
	const { proposal, requirement } = proposeWith(evidence, strategy, base);
	const out = single(w, 'out');
	if (out) writeOut(out, `${JSON.stringify(withChanges(base, proposal.changes), null, '\t')}\n`);
	const exported = single(w, 'requirement');
	if (exported) writeOut(exported, requirement ? requirementCsv(requirement) : '');
	return { json: proposal };
}
