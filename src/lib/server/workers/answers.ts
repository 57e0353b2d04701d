/** Answers from stored logs: summaries, baselines, proofs, swap tests, fuel, the ladder, plugs. */
import { prepare } from '../../../core/evidence/prepare.ts';
import { InputError } from '../../../core/input-error.ts';
import { proofMeasure } from '../../../core/evidence/knock/proof.ts';
import { parseCalibration } from '../../../core/calibration/document.ts';
import { logSummary } from '../../../core/performance/log-summary.ts';
import { measuredBaselines } from '../../../core/screening/baselines.ts';
import { screenPrepared } from '../../../core/screening/screen.ts';
import type { EarlierRung, ScreenedLog } from '../../../core/climbing/case.ts';
import { ladderOf } from '../../../core/climbing/ladder.ts';
import { demandFromLog } from '../../../core/fuelling/demand.ts';
import { planFuel as planFuelCore } from '../../../core/fuelling/plan.ts';
import { judgePlugs as judgePlugsCore } from '../../../core/plugs/judge.ts';
import { witnessesOf } from '../../../core/plugs/witnesses.ts';
import { judgeSwap as judgeSwapCore } from '../../../core/swaps/judge.ts';
import { parseVehicle } from '../../../core/vehicle/document.ts';
import { type Db } from '../db/open.ts';
import { contextOf } from '../log-context.ts';
import { loadLog } from '../log-store.ts';
import type {
	BaselinesTaskResult,
	LogTask,
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
	SummaryTaskResult
} from './tasks.ts';
import { database, messageOf } from './shared.ts';

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
	earlier,
	goal,
	plugs,
	banksSeen
}: LadderTask): Promise<LadderTaskResult> {
	const db = database(dataDir);
	try {
		const { calibration, vehicle } = await inVehicle(db, revisionId);
		const screened = async (ids: readonly number[]) => {
			const logs: ScreenedLog[] = [];
			for (const id of ids) {
				const input = prepare(await loadLog(db, id), await contextOf(db, id));
				logs.push({ input, report: screenPrepared(input) });
			}
			return logs;
		};
		const before: EarlierRung[] = [];
		for (const r of earlier)
			before.push({
				calibration: (await inVehicle(db, r.revisionId)).calibration,
				logs: await screened(r.logIds)
			});
		return {
			ok: true,
			answer: ladderOf({
				banksSeen,
				calibration,
				logs: await screened(logIds),
				earlier: before,
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
