/**
 * Stages of a job on its way to the fuel that it is meant for: the first start after new parts, the ordinary fuel, ethanol, nitrous. Each is
 * opened by the one before, called done by a person, and void again once the injectors are changed.
 */
import type { Vehicle } from '../vehicle/document.ts';
import type { Goal } from './goal.ts';

export const STAGE_KINDS = ['first-start', 'ordinary', 'ethanol', 'nitrous'] as const;
export type StageKind = (typeof STAGE_KINDS)[number];

export const STAGE_TITLES: Record<StageKind, string> = {
	'first-start': 'First start',
	ordinary: 'Ordinary fuel',
	ethanol: 'Ethanol',
	nitrous: 'Nitrous'
};

/** A stage that somebody called done. */
export interface StageCall {
	kind: StageKind;
	at: string;
	author: string;
	words: string;
}

/** What went into the tank. */
export interface Fill {
	at: string;
	ethanolPct: number | null;
	octaneRon: number | null;
	source: EthanolSource;
	words: string;
}
export type EthanolSource = 'sensor' | 'inferred' | 'stated';

export interface StageFacts {
	goal: Goal;
	vehicle: Vehicle;
	done: readonly StageCall[];
	/** When the injectors were last changed; null where they weren't. */
	injectorsAt: string | null;
	/** When each log that was read arrived, oldest first. */
	logsAt: readonly string[];
	/** Title of the open finding at stop, null without one. */
	openStop: string | null;
	/** The newest fill, null where none was noted. */
	fill: Fill | null;
}

export interface Stage {
	kind: StageKind;
	title: string;
	state: 'done' | 'open' | 'closed';
	/** Open or closed: what opened it, or would. Done: the words that were said. */
	why: string;
	/** What is to be done in it, in this order. */
	todo: string[];
	/** Why it can't be completed yet; null where it can, or is. */
	notYet: string | null;
	call: StageCall | null;
}

/** A goal with so much more ethanol than the car was set up for is a stage of its own, points. */
const ANOTHER_BLEND_POINTS = 5;

/** Common practice for new injectors, in this order. */
const NEW_INJECTORS = [
	'Put in their data: flow sheet with date and numbering, so that each injector is known by its place.',
	'Reset the learned trims: they were learned on the old ones.',
	'Leak check: engine cold, pressure off, ventilate, extinguisher beside it. Prime without starting, look at every joint, wait an hour, look again.',
	'Log a start and an idle before anything is driven.'
];
const FIRST_START = ['Log a start and an idle before anything is driven.'];

const TODO: Record<Exclude<StageKind, 'first-start'>, string[]> = {
	ordinary: [
		'Log on the ordinary fuel first: idle, cruise, part load, then one pull.',
		'Settle its mixture and its timing there. What is wrong with the injectors shows on it.'
	],
	ethanol: [
		'Run the tank down, fill up, note the fill with the content that was measured.',
		'Drive until the lines hold the new blend, then log idle and cruise before load.',
		'Timing of the richer blend never counts for a poorer one.'
	],
	nitrous: [
		'The smallest shot first, timing taken out for it, plugs read after the first pass.',
		'Fuel with nitrous is its own table: the base stays as it was proven.'
	]
};

/** Stages that this job has, in their order, each with its state. */
export function stagesOf(facts: StageFacts): Stage[] {
	const { goal, vehicle, done, injectorsAt, logsAt, openStop, fill } = facts;
	const kinds = STAGE_KINDS.filter((k) =>
		k === 'first-start'
			? injectorsAt !== null || logsAt.length === 0 || done.some((d) => d.kind === k)
			: k === 'ethanol'
				? (goal.ethanolPct ?? 0) - (vehicle.fuel?.ethanolPct ?? 0) > ANOTHER_BLEND_POINTS ||
					done.some((d) => d.kind === k)
				: k === 'nitrous'
					? vehicle.nitrous !== undefined || done.some((d) => d.kind === k)
					: true
	);
	/** Said before the injectors were changed: of another engine. */
	const callOf = (k: StageKind) =>
		done
			.filter((d) => d.kind === k && (injectorsAt === null || d.at > injectorsAt))
			.reduce<StageCall | null>((a, b) => (a && a.at > b.at ? a : b), null);
	const stages: Stage[] = [];
	for (const kind of kinds) {
		const call = callOf(kind);
		const before = stages.at(-1);
		const closed =
			before && before.state !== 'done'
				? `Opens when ${before.title.toLowerCase()} is complete${kind === 'nitrous' ? ': the base is proven first' : ''}.`
				: kind === 'ethanol' || kind === 'nitrous'
					? (stopped(openStop) ?? (kind === 'ethanol' ? unknownBlend(fill, before?.call?.at ?? null) : null))
					: null;
		const since = [before?.call?.at ?? '', injectorsAt ?? ''].reduce((a, b) => (a > b ? a : b));
		stages.push({
			kind,
			title: STAGE_TITLES[kind],
			state: call ? 'done' : closed ? 'closed' : 'open',
			why: call
				? call.words
				: (closed ?? (before ? `${before.title} is complete.` : 'Nothing comes before it.')),
			todo: kind === 'first-start' ? (injectorsAt ? NEW_INJECTORS : FIRST_START) : TODO[kind],
			notYet: call
				? null
				: (closed ??
					stopped(openStop) ??
					(logsAt.some((at) => at > since) ? null : 'No log was made in this stage.')),
			call
		});
	}
	return stages;
}

const stopped = (openStop: string | null) => (openStop ? `Open at stop: ${openStop}.` : null);

/** Why nobody knows what is in the tank. @param since the fill has to be from after this */
function unknownBlend(fill: Fill | null, since: string | null): string | null {
	if (!fill || (since !== null && fill.at < since)) return 'Opens when a fill with ethanol is noted.';
	if (fill.ethanolPct === null) return 'The content of the last fill is not known: measure it.';
	if (fill.source === 'inferred')
		return 'The content of the last fill is inferred from trims, which is no witness: measure it.';
	return null;
}
