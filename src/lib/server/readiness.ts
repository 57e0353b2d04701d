/** Ready on the day: a log against the limits, and each item against the band that it keeps by itself over the logs in which the car was well. */
import { againstOwn, type Levels, type OwnLevel } from '$core/screening/levels.ts';
import {
	goOrNot,
	readinessLines,
	withOwnBands,
	type ReadinessLine
} from '$core/screening/readiness-sheet.ts';
import type { Db } from './db/open.ts';
import { hardwareOf } from './evidence.ts';
import type { JobView } from './jobs.ts';
import { logsOf, screeningOf, type LogLine } from './logs.ts';
import { briefsOf } from './screenings.ts';

export interface Readiness {
	lines: ReadinessLine[];
	verdict: { go: boolean; why: string };
	own: OwnLevel[];
	/** When the log was judged. */
	at: string;
}

/** A car's own band is that of its last logs; older ones are another season. */
const MOST_LOGS = 40;

/** @returns null where the log was not read */
export async function readinessOf(db: Db, job: JobView, log: LogLine): Promise<Readiness | null> {
	const screening = await screeningOf(db, log.id);
	if (!screening) return null;
	const before = (await logsOf(db, job.id)).filter(
		(l) => l.id < log.id && l.state === 'screened' && l.takenOut === null && l.declinedAt === null
	);
	// Other hardware keeps another band.
	const [change] = await hardwareOf(db, job.id);
	const since = before.filter((l) => !change || l.receivedAt > change.at).slice(-MOST_LOGS);
	const briefs = await briefsOf(db, [...since.map((l) => l.id), log.id]);
	const well = since.flatMap((l): Levels[] => {
		const brief = briefs.get(l.id);
		return brief?.levels && (brief.verdict === 'clear' || brief.verdict === 'watch') ? [brief.levels] : [];
	});
	const own = againstOwn(briefs.get(log.id)?.levels ?? {}, well);
	const lines = withOwnBands(
		readinessLines(screening.report, job.vehicle, screening.profile),
		new Set(own.filter((o) => o.out).map((o) => o.check))
	);
	return { lines, verdict: goOrNot(screening.report, lines), own, at: screening.at };
}
