/** What became of the changes of a revision, told by a log that was made with it. */
import { titleOf } from '$core/calibration/items.ts';
import { findItem, findMap, membersOf } from '$core/calibration/lookup.ts';
import {
	errorMap,
	outcomesOf,
	overallVerdict,
	predictionsOf,
	type Outcome,
	type OutcomeVerdict,
	type Prediction
} from '$core/revising/outcome.ts';
import type { App } from '$lib/server/context.ts';
import { fieldsOf } from './log-fields.ts';
import { screeningOf, type Screening } from '$lib/server/logs/logs.ts';
import { briefsOf } from '$lib/server/logs/screenings.ts';
import { replayOf } from '$lib/server/views/replays.ts';
import type { Revision } from '$lib/server/revisions/revisions.ts';

export interface RevisionOutcome {
	verdict: OutcomeVerdict;
	outcomes: Outcome[];
	predictions: Prediction[];
	/** The log that the changes were made from. */
	from: number;
	titles: Record<string, string>;
}

/** @returns `null` for a revision that wasn't made from a log, or whose log can't be looked into */
export async function outcomeOf(
	app: App,
	made: Revision,
	logId: number,
	screening: Screening
): Promise<RevisionOutcome | null> {
	const source = made.proposalLogs[0];
	if (source === undefined || source === logId || made.changes.length === 0) return null;
	const before = await screeningOf(app.db, source);
	if (!before) return null;
	const [was, is, briefs] = await Promise.all([
		fieldsOf(app, source),
		fieldsOf(app, logId),
		briefsOf(app.db, [source, logId])
	]);
	const seen = (log: number) => ({ cylinders: briefs.get(log)?.cylinders ?? [] });
	const fuel = findMap(made.calibration, membersOf(made.calibration, 'fuel.table')[0] ?? '');
	const shown = { error: errorMap(is, fuel), pulls: screening.pulls, ...seen(logId) };
	const told = { error: errorMap(was, fuel), pulls: before.pulls, ...seen(source) };
	const outcomes = outcomesOf(made.changes, told, shown, (id) => {
		const item = findItem(made.calibration, id);
		return item?.kind === 'map' && item.x.channel === 'rpm' ? item.x.points : null;
	});
	if (outcomes.length === 0) return null;
	const { replay } = await replayOf(app, made, source);
	return {
		verdict: overallVerdict(outcomes),
		outcomes,
		predictions: replay ? predictionsOf(replay, shown) : [],
		from: source,
		titles: Object.fromEntries(made.calibration.items.map((i) => [i.id, titleOf(i)]))
	};
}
