/** Runs in a worker thread: reads, screens and stores logs; proposes revisions from stored ones. Thin: the core computes. */
import { prepare } from '../../../core/evidence/prepare.ts';
import { createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { outColumns, spanOf } from '../../../core/logfile/select.ts';
import { OUT_FORMATS } from '../../../core/logfile/write.ts';
import { InputError } from '../../../core/input-error.ts';
import { LayoutError } from '../../../core/logfile/layout-error.ts';
import { readLogAsync } from '../../../core/logfile/read.ts';
import { correctionCells } from '../../../core/evidence/cells/correction-map.ts';
import { proofMeasure } from '../../../core/evidence/knock/proof.ts';
import { findItem, parseCalibration, type Calibration } from '../../../core/calibration/document.ts';
import { isTable } from '../../../core/calibration/formats/csv.ts';
import { replay as replayCore } from '../../../core/revising/replay.ts';
import { proposalSchema, type Proposal } from '../../../core/revising/proposal.ts';
import { propose as proposeCore, proposeWith, withChanges } from '../../../core/revising/revise.ts';
import { requirementCsv } from '../../../core/correction/export.ts';
import { logFields } from '../../../core/correction/grid-field.ts';
import { DEFAULT_STRATEGY } from '../../../core/correction/strategy.ts';
import { requirementView } from '../../../core/correction/view.ts';
import { logSummary } from '../../../core/performance/log-summary.ts';
import { measuredBaselines } from '../../../core/screening/baselines.ts';
import { briefOf } from '../../../core/screening/brief.ts';
import { cylinderLevels } from '../../../core/screening/cylinder-levels.ts';
import { levelsOf } from '../../../core/screening/levels.ts';
import { CHECKS_VERSION, screenPrepared } from '../../../core/screening/screen.ts';
import { pullCurves } from '../../../core/evidence/segments/pull-curves.ts';
import { ladderOf } from '../../../core/climbing/ladder.ts';
import { demandFromLog } from '../../../core/fuelling/demand.ts';
import { planFuel as planFuelCore } from '../../../core/fuelling/plan.ts';
import { judgePlugs as judgePlugsCore } from '../../../core/plugs/judge.ts';
import { witnessesOf } from '../../../core/plugs/witnesses.ts';
import { judgeSwap as judgeSwapCore } from '../../../core/swaps/judge.ts';
import { parseVehicle, readContextOf } from '../../../core/vehicle/document.ts';
import { connect, type Db } from '../db/open.ts';
import { contextOf } from '../log-context.ts';
import { dropRuns, loadLog, storeColumns } from '../log-store.ts';
import { isFull } from '../room.ts';
import { forgetScreenings } from '../screenings.ts';
import { openFile } from '../files.ts';
import type { Log } from '../../../core/logfile/log.ts';
import type { LogQuestion } from '../logs.ts';
import type {
	BaselinesTaskResult,
	ExportTask,
	ExportTaskResult,
	FieldsTaskResult,
	LogTask,
	LogTaskResult,
	ProofTask,
	ProofTaskResult,
	FuelTask,
	FuelTaskResult,
	LadderTask,
	LadderTaskResult,
	PlugTask,
	PlugTaskResult,
	SwapTask,
	SwapTaskResult,
	ProposeTask,
	ProposeTaskResult,
	ReplayTask,
	ReplayTaskResult,
	RequirementTaskResult,
	SummaryTaskResult
} from './tasks.ts';

const CHUNK = 1 << 20;

const connections = new Map<string, Db>();
function database(dataDir: string): Db {
	let db = connections.get(dataDir);
	if (!db) connections.set(dataDir, (db = connect(dataDir)));
	return db;
}

/** The message of a fault of the input; anything else is a fault of ours and goes up. */
function messageOf(e: unknown): string {
	if (e instanceof InputError) return e.message;
	throw e;
}

/** Columns that two units fit, for a person to decide. */
function questionsOf(log: Log): LogQuestion[] {
	return log.channels.flatMap((c) =>
		c.undecided ? [{ ...c.undecided, channel: c.id, raw: c.raw, rawUnit: c.rawUnit, unit: c.unit }] : []
	);
}

export async function processLog({ dataDir, logId }: LogTask): Promise<LogTaskResult> {
	const db = database(dataDir);
	try {
		const context = await contextOf(db, logId);
		const total = context.log.bytes;
		let read = 0;
		let told = 0;
		async function* chunks() {
			for await (const chunk of openFile(dataDir, context.log.sha256, CHUNK)) {
				const bytes = chunk as Uint8Array;
				read += bytes.length;
				const percent = Math.floor((100 * read) / total);
				if (percent >= told + 10) {
					told = percent;
					await db.updateTable('logs').set({ progress: percent }).where('id', '=', logId).execute();
				}
				yield bytes;
			}
		}
		const log = await readLogAsync(chunks(), {
			...readContextOf(context.vehicle),
			remembered: context.remembered,
			bytes: context.log.bytes,
			hint: context.hint,
			layouts: context.layouts
		});
		const input = prepare(log, context);
		const report = screenPrepared(input);
		const run = await storeColumns(db, logId, log);
		await db.transaction().execute(async (trx) => {
			await trx
				.insertInto('screenings')
				.values({
					log_id: logId,
					version: CHECKS_VERSION,
					profile: JSON.stringify(input.profile),
					report: JSON.stringify(report),
					cells: JSON.stringify(correctionCells(input)),
					pulls: JSON.stringify(pullCurves(input)),
					unmapped: JSON.stringify(log.unmapped.filter((u) => !u.private)),
					brief: JSON.stringify({
						...briefOf(report),
						levels: levelsOf(input),
						cylinders: cylinderLevels(input)
					}),
					created_at: new Date().toISOString()
				})
				.execute();
			await trx
				.updateTable('logs')
				.set({
					state: 'screened',
					run,
					progress: 100,
					message: null,
					seen: null,
					rows: log.rows,
					duration_s: log.durationS,
					time_faults: JSON.stringify(log.timeFaults),
					questions: JSON.stringify(questionsOf(log))
				})
				.where('id', '=', logId)
				.execute();
		});
		await dropRuns(db, logId);
		await forgetScreenings(db, logId);
		return { ok: true };
	} catch (e) {
		if (isFull(e)) return { ok: false, full: true };
		return { ok: false, message: messageOf(e), seen: e instanceof LayoutError ? e.seen : null };
	}
}

/** Logs ready to propose from, and the revision that is to be changed. */
async function evidenceFor({ dataDir, logIds, revisionId }: ProposeTask) {
	const db = database(dataDir);
	const row = await db
		.selectFrom('revisions')
		.select('document')
		.where('id', '=', revisionId)
		.executeTakeFirstOrThrow();
	const base = parseCalibration(JSON.parse(row.document));
	const evidence = [];
	for (const id of logIds) {
		const input = prepare(await loadLog(db, id), await contextOf(db, id));
		evidence.push({ input, findings: screenPrepared(input).findings });
	}
	return { base, evidence };
}

export async function propose(task: ProposeTask): Promise<ProposeTaskResult> {
	try {
		const { base, evidence } = await evidenceFor(task);
		return { ok: true, proposal: proposeCore(evidence, task.strategy, base) };
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function requirement(task: ProposeTask): Promise<RequirementTaskResult> {
	try {
		const { base, evidence } = await evidenceFor(task);
		const { requirement: r, proposal } = proposeWith(evidence, task.strategy ?? DEFAULT_STRATEGY, base);
		return {
			ok: true,
			requirement: r && requirementView(r),
			csv: r ? requirementCsv(r) : '',
			next: proposal.next ?? []
		};
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function fields({ dataDir, logId }: LogTask): Promise<FieldsTaskResult> {
	const db = database(dataDir);
	try {
		return { ok: true, fields: logFields(prepare(await loadLog(db, logId), await contextOf(db, logId))) };
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function replay({
	dataDir,
	logId,
	revisionId,
	withProposal
}: ReplayTask): Promise<ReplayTaskResult> {
	const db = database(dataDir);
	try {
		const row = await db
			.selectFrom('revisions')
			.select(['document', 'proposal'])
			.where('id', '=', revisionId)
			.executeTakeFirstOrThrow();
		const draft = parseCalibration(JSON.parse(row.document));
		const next =
			withProposal && row.proposal
				? withChanges(draft, fitting(draft, proposalSchema.parse(JSON.parse(row.proposal))))
				: draft;
		const input = prepare(await loadLog(db, logId), await contextOf(db, logId));
		return { ok: true, replay: replayCore(input, next) };
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

/** Proposed changes whose cells the draft still has: on other axes some are gone. */
function fitting(draft: Calibration, { changes }: Proposal) {
	return changes.map(({ item, cells }) => {
		const own = findItem(draft, item);
		return {
			item,
			cells: isTable(own)
				? cells.filter(
						(c) => own.x.points.includes(c.x) && (own.kind === 'curve' || own.y.points.includes(c.y))
					)
				: cells
		};
	});
}

export async function summary({ dataDir, logId }: LogTask): Promise<SummaryTaskResult> {
	const db = database(dataDir);
	try {
		return { ok: true, summary: logSummary(prepare(await loadLog(db, logId), await contextOf(db, logId))) };
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function measureBaselines({ dataDir, logId }: LogTask): Promise<BaselinesTaskResult> {
	const db = database(dataDir);
	try {
		return {
			ok: true,
			baselines: measuredBaselines(prepare(await loadLog(db, logId), await contextOf(db, logId)))
		};
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function measureProof({ dataDir, logId, region }: ProofTask): Promise<ProofTaskResult> {
	const db = database(dataDir);
	try {
		const measure = proofMeasure(prepare(await loadLog(db, logId), await contextOf(db, logId)), region);
		if (!measure) throw new InputError('the log has no knock retard, or no pressure, to compare by');
		return { ok: true, measure };
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function judgeSwap({ dataDir, swap, before, after, back }: SwapTask): Promise<SwapTaskResult> {
	const db = database(dataDir);
	try {
		const of = async (id: number) => ({ log: await loadLog(db, id), context: await contextOf(db, id) });
		return {
			ok: true,
			answer: judgeSwapCore(
				swap,
				await of(before),
				await of(after),
				back === null ? undefined : await of(back)
			)
		};
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function planFuel({ dataDir, logId, goal }: FuelTask): Promise<FuelTaskResult> {
	const db = database(dataDir);
	try {
		const context = await contextOf(db, logId);
		const { injectors, fuel } = context.vehicle;
		const demand = demandFromLog(prepare(await loadLog(db, logId), context), goal);
		return {
			ok: true,
			plan: planFuelCore(demand, goal, injectors?.flowCcMin ?? null, fuel?.ethanolPct ?? 0)
		};
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

/** A revision and the vehicle that it is for. */
async function inVehicle(db: Db, revisionId: number) {
	const row = await db
		.selectFrom('revisions')
		.innerJoin('jobs', 'jobs.id', 'revisions.job_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select(['revisions.document', 'vehicles.document as vehicle'])
		.where('revisions.id', '=', revisionId)
		.executeTakeFirstOrThrow();
	return {
		calibration: parseCalibration(JSON.parse(row.document)),
		vehicle: parseVehicle(JSON.parse(row.vehicle))
	};
}

export async function ladder({
	dataDir,
	logIds,
	revisionId,
	goal,
	plugs,
	banksSeen
}: LadderTask): Promise<LadderTaskResult> {
	const db = database(dataDir);
	try {
		const { calibration, vehicle } = await inVehicle(db, revisionId);
		const logs = [];
		for (const id of logIds) {
			const input = prepare(await loadLog(db, id), await contextOf(db, id));
			logs.push({ input, report: screenPrepared(input) });
		}
		return {
			ok: true,
			answer: ladderOf({
				banksSeen,
				calibration,
				logs,
				vehicle,
				goal,
				plugs: plugs && {
					document: plugs,
					answer: judgePlugsCore({ plugs, calibration, vehicle })
				}
			})
		};
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function judgePlugs({
	dataDir,
	plugs,
	revisionId,
	logId,
	rank
}: PlugTask): Promise<PlugTaskResult> {
	const db = database(dataDir);
	try {
		const { calibration, vehicle } = await inVehicle(db, revisionId);
		const input = logId === null ? null : prepare(await loadLog(db, logId), await contextOf(db, logId));
		return {
			ok: true,
			answer: judgePlugsCore({
				plugs,
				calibration,
				vehicle,
				witnesses: input && witnessesOf({ input, findings: screenPrepared(input).findings }),
				rank
			})
		};
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}

export async function exportLog(task: ExportTask): Promise<ExportTaskResult> {
	try {
		const log = spanOf(await loadLog(database(task.dataDir), task.logId), task.fromS, task.toS);
		if (log.rows === 0) throw new InputError('there is nothing in this span of the log');
		const out = createWriteStream(task.path);
		await pipeline(OUT_FORMATS[task.format].pieces(log, outColumns(log, task.units)), out);
		return { ok: true, rows: log.rows };
	} catch (e) {
		return { ok: false, message: messageOf(e) };
	}
}
