/** A proof of real or false knock is begun, and logs stand for its steps. */
import { z } from 'zod';
import { PROOF_STEPS, type ProofMeasure } from '$core/evidence/knock/proof.ts';
import type { ProofRegion } from '$core/evidence/knock/proof-region.ts';
import { InputError } from '$core/input-error.ts';
import { parseWith } from '$core/parse.ts';
import type { App } from '$lib/server/context.ts';
import { nextId } from '$lib/server/db/ids.ts';
import { proofsOf } from '$lib/server/jobs/knock-proofs.ts';

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
	const answer = await app.pool.run('proof', { dataDir: app.dataDir, logId, region });
	if (!answer.ok) throw new InputError(answer.message);
	return answer.measure;
}
