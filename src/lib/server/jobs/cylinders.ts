/** A cylinder over time: what each log and each reading of the plugs said of it. */
import type { CylinderLevels } from '$core/screening/cylinder-levels.ts';
import type { PlugReading } from '$core/plugs/document.ts';
import type { Db } from '$lib/server/db/open.ts';
import { hardwareOf } from './hardware.ts';
import { logsOf } from '$lib/server/logs/logs.ts';
import { plugsOf } from './plug-readings.ts';
import { briefsOf } from '$lib/server/logs/screenings.ts';

export type CylinderColumn =
	| { kind: 'log'; id: number; at: string; title: string; cylinders: CylinderLevels[] }
	| { kind: 'plugs'; id: number; at: string; title: string; readings: PlugReading[] }
	| { kind: 'hardware'; id: number; at: string; title: string };

/** Columns that a screen holds; what is older is in its own log. */
const MOST = 9;

/** The oldest first; logs that say nothing by cylinder are left out. */
export async function cylindersOverTime(db: Db, jobId: number): Promise<CylinderColumn[]> {
	const logs = (await logsOf(db, jobId)).filter((l) => l.state === 'screened' && l.takenOut === null);
	const briefs = await briefsOf(
		db,
		logs.map((l) => l.id)
	);
	const columns: CylinderColumn[] = [
		...logs.flatMap((l): CylinderColumn[] => {
			const cylinders = briefs.get(l.id)?.cylinders;
			return cylinders?.length
				? [{ kind: 'log', id: l.id, at: l.receivedAt, title: l.title, cylinders }]
				: [];
		}),
		...(await plugsOf(db, jobId)).map((p): CylinderColumn => ({
			kind: 'plugs',
			id: p.id,
			at: p.at,
			title: 'Plugs read',
			readings: p.plugs.readings
		})),
		...(await hardwareOf(db, jobId)).map((h): CylinderColumn => ({
			kind: 'hardware',
			id: h.id,
			at: h.at,
			title: h.what
		}))
	];
	return columns.sort((a, b) => a.at.localeCompare(b.at)).slice(-MOST);
}
