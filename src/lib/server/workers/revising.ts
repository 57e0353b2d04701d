/** Proposals, the requirement behind them, and replays: what the next revision rests on. */
import { prepare } from '../../../core/evidence/prepare.ts';
import { findItem, parseCalibration, type Calibration } from '../../../core/calibration/document.ts';
import { isTable } from '../../../core/calibration/formats/csv.ts';
import { replay as replayCore } from '../../../core/revising/replay.ts';
import { proposalSchema, type Proposal } from '../../../core/revising/proposal.ts';
import { propose as proposeCore, proposeWith, withChanges } from '../../../core/revising/revise.ts';
import { requirementCsv } from '../../../core/correction/export.ts';
import { logFields } from '../../../core/correction/grid-field.ts';
import { DEFAULT_STRATEGY } from '../../../core/correction/strategy.ts';
import { requirementView } from '../../../core/correction/view.ts';
import { screenPrepared } from '../../../core/screening/screen.ts';
import { contextOf } from '../log-context.ts';
import { loadLog } from '../log-store.ts';
import type {
	FieldsTaskResult,
	LogTask,
	ProposeTask,
	ProposeTaskResult,
	ReplayTask,
	ReplayTaskResult,
	RequirementTaskResult
} from './tasks.ts';
import { database, messageOf } from './shared.ts';

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
