/** What stands between a draft and its release. */
import { compare, sameItem, type Change } from '$core/calibration/compare.ts';
import { holdsOf, type Hold, type HoldInput } from '$core/revising/holds.ts';
import { cautionsFor } from '$core/revising/notes.ts';
import { profileOf } from '$core/limits/profile.ts';
import { findItem } from '$core/calibration/lookup.ts';
import { titleOf } from '$core/calibration/items.ts';
import type { Vehicle } from '$core/vehicle/document.ts';
import { attachmentsOf, filesSeen } from './attachments.ts';
import { layoutOfJob } from './table-layouts.ts';
import { carryLines, tableProofsOf } from './table-proofs.ts';
import { ANSWERS, answersFor } from '$lib/server/logs/finding-answers.ts';
import { hashOf } from '$lib/server/storage/tokens.ts';
import type { Db } from '$lib/server/db/open.ts';
import { screeningOf } from '$lib/server/logs/logs.ts';
import { ethanolOfLog } from '$lib/server/logs/log-context.ts';
import { falseProofsOf, proofsOf } from '$lib/server/jobs/knock-proofs.ts';
import { findingKey, type Finding } from '$core/screening/types.ts';
import { maximaBeyond } from '$lib/server/jobs/maxima.ts';
import { newestLog, unreadLogs } from '$lib/server/jobs/newest-log.ts';
import type { Replay } from '$core/revising/replay-schema.ts';
import { currentRevision, revision, type Revision } from './revisions.ts';
import { typedOf } from '$lib/server/logs/typed-readings.ts';
import { workshopSetting } from '$lib/server/jobs/workshop.ts';
import { vehicleOfJob } from '$lib/server/jobs/vehicles.ts';

/** A log of the job driven again in thought with a draft. */
export interface ReplayOfDraft {
	replay: Replay | null;
	log: { id: number; name: string } | null;
	/** Why there is none, in words. */
	problem: string;
}

export interface ReleaseCheck {
	changes: Change[];
	holds: Hold[];
	/** Nothing differs from the parent. */
	empty: boolean;
	/** Every change makes things safer or is a mere record. */
	onlySafer: boolean;
	cautions: string[];
	/** The newest log of the job, which the holds speak of. */
	log: { id: number; name: string } | null;
}

/** What stands between a draft and its release. @param replayed the newest log with this draft */
export async function releaseCheck(
	db: Db,
	draft: Revision,
	replayed: Pick<ReplayOfDraft, 'replay' | 'problem'>
): Promise<ReleaseCheck> {
	const made = (await revision(db, draft.parentId!))!;
	// What is in the car, or on its way there, is what a revision is held against: a draft from an older one takes back what came after.
	const newestId = (await currentRevision(db, draft.jobId)).id;
	const parent = newestId === made.id ? made : (await revision(db, newestId))!;
	const { changes } = compare(parent.calibration, draft.calibration);
	const log = await newestLog(db, draft.jobId);
	const screening = log ? await screeningOf(db, log.id) : null;
	const found = keyed(screening?.report.findings ?? []);
	const { covering, earlier } = await answersFor(db, draft.jobId, log, found);
	const vehicle = await vehicleOfJob(db, draft.jobId);
	const holds = holdsOf({
		changes,
		parent: parent.calibration,
		draft: draft.calibration,
		cells: draft.changes,
		edits: draft.edits,
		report: screening?.report ?? null,
		answered: new Set(Object.keys(covering)),
		earlier: Object.fromEntries(
			Object.values(earlier).map((a) => [
				a.key,
				`Answered before, in another log or when it was milder: ${ANSWERS[a.kind]}, ${a.reason} (${a.author}).`
			])
		),
		undoes: parent === made ? null : undone(made, parent, draft),
		evidenceGone: await takenOut(db, draft.proposalLogs),
		parentLogged: (await newestLog(db, draft.jobId, parent.id)) !== null,
		parentIsBaseline: parent.state === 'baseline',
		unread: await unreadLogs(db, draft.jobId),
		replay: replayed.replay,
		replayProblem: log ? replayed.problem : '',
		falseProofs: falseProofsOf(await proofsOf(db, draft.jobId)),
		ethanolPct: log ? await ethanolOfLog(db, log.id) : (vehicle.fuel?.ethanolPct ?? null),
		typed: log ? await differing(db, log.id, vehicle) : [],
		neverSensitivity: (await workshopSetting(db, 'ways')).knockSensitivity === 'never',
		maxima: await maximaBeyond(db, draft.jobId, parent.id, vehicle),
		file: await fileState(db, draft, parent, vehicle),
		profile: profileOf(vehicle.limits)
	});
	return {
		changes,
		holds,
		empty: changes.length === 0,
		onlySafer: changes.every((c) => c.class === 'safer' || c.class === 'neutral'),
		cautions: cautionsFor(changes, draft.changes.length > 0 && draft.proposal?.resetTrims === true),
		log
	};
}

/** Those of the logs that a person took out of the job. */
async function takenOut(db: Db, logIds: readonly number[]): Promise<HoldInput['evidenceGone']> {
	if (logIds.length === 0) return [];
	const rows = await db
		.selectFrom('logs')
		.select(['id', 'name', 'taken_out as reason'])
		.where('id', 'in', [...logIds])
		.where('taken_out', 'is not', null)
		.execute();
	return rows.map((r) => ({ ...r, reason: r.reason! }));
}

const keyed = (findings: readonly Finding[]) => findings.map((f) => ({ ...f, key: findingKey(f) }));

/** What a page spoke of when it was opened; a release answers that and nothing else. */
export interface Examined {
	contentHash: string;
	/** The closed files. */
	files: string;
	/** The newest log, and what it found how grave. */
	findings: string;
}

export async function examinedOf(db: Db, draft: Revision): Promise<Examined> {
	const log = await newestLog(db, draft.jobId);
	const screening = log ? await screeningOf(db, log.id) : null;
	const said = keyed(screening?.report.findings ?? []).map((f) => `${f.key} ${f.severity}`);
	return {
		contentHash: draft.contentHash,
		files: await filesSeen(db, draft.id),
		findings: hashOf([log?.id ?? 'none', ...said.sort()].join('\n'))
	};
}

/** What a draft from an older revision takes back of the newest one. */
function undone(made: Revision, newest: Revision, draft: Revision): HoldInput['undoes'] {
	const later = compare(made.calibration, newest.calibration).changes.map((c) => c.item);
	const items = later.filter(
		(id) => !sameItem(findItem(newest.calibration, id), findItem(draft.calibration, id))
	);
	return {
		madeFrom: `R${made.number}`,
		newest: `R${newest.number}`,
		titles: items.map((id) => titleOf(findItem(newest.calibration, id) ?? { id }))
	};
}

/** Typed readings beside a log that differ from it. */
async function differing(db: Db, logId: number, vehicle: Vehicle): Promise<HoldInput['typed']> {
	return (await typedOf(db, logId, vehicle)).flatMap(({ id, reading, answer }) =>
		answer.state === 'differs'
			? [
					{
						id,
						kind: reading.kind === 'timing' ? ('timing' as const) : ('fuel' as const),
						source: reading.source,
						words: answer.words
					}
				]
			: []
	);
}

/** Where the tables of a job were pasted from a tuner's program, what is known of the file that goes out. */
async function fileState(
	db: Db,
	draft: Revision,
	parent: Revision,
	vehicle: Vehicle
): Promise<HoldInput['file']> {
	const job = await db
		.selectFrom('jobs')
		.select('layout_id')
		.where('id', '=', draft.jobId)
		.executeTakeFirst();
	if (!job?.layout_id) return null;
	const { layout } = await layoutOfJob(db, draft.jobId, vehicle, draft.calibration.fuelModel);
	const base = parent.state === 'released' ? parent.calibration : null;
	const proofs = (await tableProofsOf(db, draft)).filter((p) => !p.stale);
	const titled = (id: string) => titleOf(findItem(draft.calibration, id) ?? { id });
	const lines = carryLines(base, draft.calibration, layout);
	return {
		attached: (await attachmentsOf(db, draft.id)).length > 0,
		differ: proofs
			.filter((p) => !p.result.match)
			.map((p) => ({ title: titled(p.item), fits: p.result.fits })),
		unproved: lines.filter((l) => !proofs.some((p) => p.item === l.item)).map((l) => titled(l.item))
	};
}
