/** Proofs of real or false knock: a region of a job, the logs that stand for the steps, and what they say together. */
import {
	PROOF_STEPS,
	proofVerdict,
	type FalseProof,
	type ProofMeasure,
	type ProofStep,
	type ProofVerdict
} from '$core/evidence/knock/proof.ts';
import { regionSchema, type ProofRegion } from '$core/evidence/knock/proof-region.ts';
import type { Db } from '$lib/server/db/open.ts';

export interface ProofStepRecord {
	step: ProofStep;
	logId: number;
	logName: string;
	measure: ProofMeasure;
	author: string;
	at: string;
}

export interface Proof {
	id: number;
	region: ProofRegion;
	author: string;
	at: string;
	steps: ProofStepRecord[];
	verdict: ProofVerdict;
}

/** What JSON can't hold is missing: there a measure says so by not being a number. */
function measureFrom(text: string): ProofMeasure {
	const m = JSON.parse(text) as Partial<Record<keyof ProofMeasure, number | boolean | number[] | null>>;
	const number = (name: keyof ProofMeasure) => (typeof m[name] === 'number' ? m[name] : Number.NaN);
	return {
		perPullDeg: Array.isArray(m.perPullDeg) ? m.perPullDeg : [],
		meanRetardDeg: number('meanRetardDeg'),
		secondsLoaded: number('secondsLoaded'),
		intakeC: number('intakeC'),
		rpm: number('rpm'),
		mapKpa: number('mapKpa'),
		ethanolPct: typeof m.ethanolPct === 'number' ? m.ethanolPct : null,
		sparkBaseDeg: number('sparkBaseDeg'),
		lambda: number('lambda'),
		saturated: m.saturated === true,
		staircase: m.staircase === true,
		monitor: typeof m.monitor === 'number' ? m.monitor : null
	};
}

/** Proofs of a job, the newest first, each with its verdict so far. */
export async function proofsOf(db: Db, jobId: number): Promise<Proof[]> {
	const rows = await db
		.selectFrom('knock_proofs')
		.selectAll()
		.where('job_id', '=', jobId)
		.orderBy('id', 'desc')
		.execute();
	return Promise.all(
		rows.map(async (r) => {
			const steps = await db
				.selectFrom('knock_proof_steps')
				.innerJoin('logs', 'logs.id', 'knock_proof_steps.log_id')
				.select(['step', 'log_id', 'logs.name', 'measure', 'author', 'knock_proof_steps.created_at'])
				.where('proof_id', '=', r.id)
				.execute();
			const records = steps
				.map((s): ProofStepRecord => ({
					step: s.step,
					logId: s.log_id,
					logName: s.name,
					measure: measureFrom(s.measure),
					author: s.author,
					at: s.created_at
				}))
				.sort((a, b) => PROOF_STEPS.indexOf(a.step) - PROOF_STEPS.indexOf(b.step));
			return {
				id: r.id,
				region: regionSchema.parse(JSON.parse(r.region)),
				author: r.author,
				at: r.created_at,
				steps: records,
				verdict: proofVerdict(Object.fromEntries(records.map((s) => [s.step, s.measure])))
			};
		})
	);
}

/** Where knock was proved false in a job, and on which fuel: that of its baseline. */
export const falseProofsOf = (proofs: readonly Proof[]): FalseProof[] =>
	proofs.flatMap((p) =>
		p.verdict.verdict === 'false'
			? [
					{
						region: p.region,
						ethanolPct: p.steps.find((s) => s.step === 'baseline')?.measure.ethanolPct ?? null,
						meanRetardDeg: p.steps.find((s) => s.step === 'baseline')?.measure.meanRetardDeg ?? 0
					}
				]
			: []
	);
