/** What an aggregate puts on the timeline of a job. */
export interface TimelineEvent {
	kind: 'revision' | 'log' | 'message' | 'plan' | 'hardware' | 'swap' | 'plugs' | 'stage' | 'fill' | 'maxima';
	id: number;
	label: string;
	at: string;
	/** Verdict of a log, state of a revision. */
	state: string;
	detail: string;
	/** A log that was excluded or rejected: it stands there, and nothing is judged by it. */
	aside?: true;
	/** A test whose log hasn't come yet. */
	waits?: true;
}

/** Tables that are counted on the timeline, by the kind under which triggers of the database count them. */
export const TIMELINE_TABLES = {
	revision: 'revisions',
	log: 'logs',
	message: 'messages',
	plan: 'requests',
	screening: 'screenings',
	waiting: 'jobs',
	hardware: 'hardware_changes',
	swap: 'swap_tests',
	plugs: 'plug_readings',
	stage: 'stage_calls',
	fill: 'fills',
	maxima: 'maxima_readings'
} as const;

/** An event with its place: the counter under which it was stored. A clock can go back, a counter doesn't. */
export interface PlacedEvent extends TimelineEvent {
	n: number;
}
