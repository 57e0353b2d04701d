/** Proofs of real or false knock: a region of a job, the logs that stand for the steps, and what they say together. */
import { z } from 'zod';
import { InputError } from '../../core/input-error.ts';
import {
	PROOF_STEPS,
	proofVerdict,
	regionSchema,
	type FalseProof,
	type ProofMeasure,
	type ProofRegion,
	type ProofStep,
	type ProofVerdict
} from '../../core/evidence/knock/proof.ts';
import { parseWith } from '../../core/parse.ts';
import type { App } from './context.ts';
import { nextId } from './db/ids.ts';
import type { Db } from './db/open.ts';

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

const bound = (what: string, most: number) =>
	z.coerce
		.number(`${what} is not a number`)
		.min(0, `${what} is below zero`)
		.max(most, `${what} is above ${most}`);
const startSchema = z
	.object({
		rpmFrom: bound('the lowest engine speed', 20_000),
		rpmTo: bound('the highest engine speed', 20_000),
		kpaFrom: bound('the lowest pressure', 700),
		kpaTo: bound('the highest pressure', 700)
	})
	.refine((r) => r.rpmTo > r.rpmFrom && r.kpaTo > r.kpaFrom, 'a region ends above where it begins');

/** Begins a proof with this log as its baseline. @throws InputError */
export async function startProof(
	app: App,
	jobId: number,
	logId: number,
	author: string,
	input: unknown
): Promise<number> {
	const r = parseWith(startSchema, input);
	const region: ProofRegion = { rpm: [r.rpmFrom, r.rpmTo], mapKpa: [r.kpaFrom, r.kpaTo] };
	const measure = await measured(app, logId, region);
	const now = new Date().toISOString();
	return app.db.transaction().execute(async (trx) => {
		const { insertId } = await trx
			.insertInto('knock_proofs')
			.values({
				id: await nextId(trx, 'knock_proofs'),
				job_id: jobId,
				region: JSON.stringify(region),
				author,
				created_at: now
			})
			.executeTakeFirstOrThrow();
		const id = Number(insertId);
		await trx
			.insertInto('knock_proof_steps')
			.values({
				proof_id: id,
				step: 'baseline',
				log_id: logId,
				measure: JSON.stringify(measure),
				author,
				created_at: now
			})
			.execute();
		return id;
	});
}

/** Lets a log stand for a step; one that stood there before gives way. @throws InputError */
export async function recordStep(
	app: App,
	jobId: number,
	logId: number,
	author: string,
	input: { proof: number; step: string }
): Promise<boolean> {
	const step = PROOF_STEPS.find((s) => s === input.step);
	const proof = (await proofsOf(app.db, jobId)).find((p) => p.id === input.proof);
	if (!proof || !step) throw new InputError('there is no such step of a proof in this job');
	const taken = proof.steps.find((s) => s.logId === logId && s.step !== step);
	if (taken) throw new InputError(`this log already stands for another step of this proof (${taken.step})`);
	const row = {
		log_id: logId,
		measure: JSON.stringify(await measured(app, logId, proof.region)),
		author,
		created_at: new Date().toISOString()
	};
	await app.db
		.insertInto('knock_proof_steps')
		.values({ proof_id: proof.id, step, ...row })
		.onConflict((c) => c.columns(['proof_id', 'step']).doUpdateSet(row))
		.execute();
	const now = (await proofsOf(app.db, jobId)).find((p) => p.id === proof.id);
	return (now?.verdict.verdict === 'false') !== (proof.verdict.verdict === 'false');
}

async function measured(app: App, logId: number, region: ProofRegion): Promise<ProofMeasure> {
	const answer = await app.pool.measureProof({ dataDir: app.dataDir, logId, region });
	if (!answer.ok) throw new InputError(answer.message);
	return answer.measure;
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
