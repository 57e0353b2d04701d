/** What an aggregate puts on the timeline of a job. */
export interface TimelineEvent {
	kind: 'revision' | 'log' | 'message' | 'plan' | 'hardware' | 'swap' | 'plugs' | 'stage' | 'fill';
	id: number;
	label: string;
	at: string;
	/** Verdict of a log, state of a revision. */
	state: string;
	detail: string;
}

/** An event with its place: the counter under which it was stored. A clock can go back, a counter doesn't. */
export interface PlacedEvent extends TimelineEvent {
	n: number;
}
