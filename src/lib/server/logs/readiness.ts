/** Ready on the day: a log against the limits, and each item against the band that it keeps by itself over the logs in which the car was well. */
import { group } from 'd3-array';
import type { Brief } from '$core/screening/brief.ts';
import { againstOwn, LEAST_VEHICLES, type Levels, type OwnLevel } from '$core/screening/levels.ts';
import {
	goOrNot,
	readinessLines,
	withOwnBands,
	type ReadinessLine
} from '$core/screening/readiness-sheet.ts';
import type { Db } from '$lib/server/db/open.ts';
import { hardwareOf } from '$lib/server/jobs/hardware.ts';
import { kinOf } from '$lib/server/jobs/like-vehicles.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
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

/** With fewer healthy logs than this a vehicle has no band of its own. */
const LEAST_OWN = 3;
/** Of so many vehicles of its kind, and of each so many logs, the newest are asked. */
const MOST_KIN = 40;
const LOGS_OF_KIN = 12;

/** Levels of the healthy logs of other vehicles of its kind in this workshop. */
async function levelsOfKin(db: Db, job: JobView): Promise<Levels[][]> {
	const vehicles = await kinOf(db, job.vehicle, job.vehicleId)
		.select('vehicles.id')
		.limit(MOST_KIN)
		.execute();
	if (vehicles.length < LEAST_VEHICLES) return [];
	const logs = await db
		.selectFrom('logs')
		.innerJoin('jobs', 'jobs.id', 'logs.job_id')
		.select(['logs.id', 'jobs.vehicle_id'])
		.where(
			'jobs.vehicle_id',
			'in',
			vehicles.map((v) => v.id)
		)
		.where('logs.state', '=', 'screened')
		.where('logs.taken_out', 'is', null)
		.orderBy('logs.id', 'desc')
		.execute();
	const newest = [...group(logs, (l) => l.vehicle_id).values()].map((own) => own.slice(0, LOGS_OF_KIN));
	const briefs = await briefsOf(
		db,
		newest.flat().map((l) => l.id)
	);
	return newest.map((own) =>
		own.flatMap((l) => {
			const brief = briefs.get(l.id);
			return brief?.levels && isWell(brief) ? [brief.levels] : [];
		})
	);
}

const isWell = (b: Brief): boolean => b.verdict === 'clear' || b.verdict === 'watch';

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
		return brief?.levels && isWell(brief) ? [brief.levels] : [];
	});
	const own = againstOwn(
		briefs.get(log.id)?.levels ?? {},
		well,
		well.length < LEAST_OWN ? await levelsOfKin(db, job) : []
	);
	const lines = withOwnBands(
		readinessLines(screening.report, job.vehicle, screening.profile),
		new Set(own.filter((o) => o.out).map((o) => o.check))
	);
	return { lines, verdict: goOrNot(screening.report, lines), own, at: screening.at };
}
