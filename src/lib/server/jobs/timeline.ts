/** What happened in a job, in the order in which it happened. Each aggregate tells of its own. */
import type { Db } from '$lib/server/db/open.ts';
import { hardwareEvents } from './hardware.ts';
import { logEvents } from '$lib/server/logs/logs.ts';
import { maximaEvents } from './maxima.ts';
import { messageEvents } from './messages.ts';
import { plugEvents } from './plug-readings.ts';
import { planEvents } from './drive-plans.ts';
import { revisionEvents } from '$lib/server/revisions/revision-events.ts';
import { fillEvents, stageEvents } from './stages.ts';
import { swapEvents } from './swap-tests.ts';
import type { PlacedEvent, TimelineEvent } from './timeline-event.ts';

const SOURCES: readonly ((db: Db, jobId: number) => Promise<PlacedEvent[]>)[] = [
	revisionEvents,
	logEvents,
	messageEvents,
	planEvents,
	hardwareEvents,
	swapEvents,
	plugEvents,
	stageEvents,
	fillEvents,
	maximaEvents
];

/** Events of a job, the first one first. */
export async function timelineOf(db: Db, jobId: number): Promise<TimelineEvent[]> {
	const events: PlacedEvent[] = [];
	for (const source of SOURCES) events.push(...(await source(db, jobId)));
	return events.sort((a, b) => a.n - b.n).map(({ n: _, ...event }) => event);
}
