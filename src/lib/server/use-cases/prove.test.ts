/** Proofs as they are stored: one region, a log for a step, and the verdict of what is there. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ProofMeasure } from '$core/evidence/knock/proof.ts';
import type { App } from '$lib/server/context.ts';
import { proofsOf } from '$lib/server/jobs/knock-proofs.ts';
import { recordStep, startProof } from './prove.ts';
import { poolOf } from '$lib/server/testing/pool.ts';
import { openWorld, putJob, putLog, type World } from '$lib/server/testing/world.ts';

let world: World;
let jobId: number;
/** What the worker would measure in each log. */
let measures: Map<number, ProofMeasure>;
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db, {});
	measures = new Map();
});
afterEach(() => world.close());

const measure = (perPullDeg: number[], more: Partial<ProofMeasure> = {}): ProofMeasure => ({
	perPullDeg,
	meanRetardDeg: perPullDeg.reduce((a, b) => a + b, 0) / perPullDeg.length,
	secondsLoaded: 6,
	intakeC: 30,
	rpm: 4000,
	mapKpa: 150,
	ethanolPct: 5,
	sparkBaseDeg: 18,
	lambda: 0.8,
	saturated: false,
	staircase: false,
	monitor: null,
	...more
});
const app = (): App =>
	({
		db: world.db,
		dataDir: world.folder,
		pool: poolOf({
			proof: async ({ logId }: { logId: number }) =>
				measures.has(logId)
					? { ok: true, measure: measures.get(logId) }
					: { ok: false, message: 'no knock channel is logged' }
		})
	}) as unknown as App;
async function log(n: number, m?: ProofMeasure): Promise<number> {
	const id = await putLog(world.db, jobId, { name: `${n}.csv`, sha256: String(n).padStart(64, '0') });
	if (m) measures.set(id, m);
	return id;
}
const REGION = { rpmFrom: '3500', rpmTo: '4500', kpaFrom: '130', kpaTo: '170' };

describe('a proof', () => {
	it('begins with its baseline, and falls to real where richer fuel takes the knock away', async () => {
		const proof = await startProof(app(), jobId, await log(1, measure([2, 2.1, 1.9])), 'Sable', REGION);
		expect(await proofsOf(world.db, jobId)).toMatchObject([
			{ id: proof, region: { rpm: [3500, 4500], mapKpa: [130, 170] }, verdict: { verdict: 'open' } }
		]);
		const back = await log(2, measure([0.2, 0.3, 0.25], { sparkBaseDeg: 16 }));
		await recordStep(app(), jobId, back, 'Sable', { proof, step: 'timing' });
		const [now] = await proofsOf(world.db, jobId);
		expect(now!.steps.map((s) => s.step)).toEqual(['baseline', 'timing']);
		expect(now!.verdict.verdict).toBe('real');
	});
	it('a step gives way to a better log of it; one log never stands for two', async () => {
		const first = await log(1, measure([2, 2, 2]));
		const proof = await startProof(app(), jobId, first, 'Sable', REGION);
		await recordStep(app(), jobId, await log(2, measure([2, 2, 2])), 'Sable', { proof, step: 'mixture' });
		await recordStep(app(), jobId, await log(3, measure([1, 1, 1])), 'Sable', { proof, step: 'mixture' });
		expect((await proofsOf(world.db, jobId))[0]!.steps.map((s) => s.logName)).toEqual(['1.csv', '3.csv']);
		await expect(recordStep(app(), jobId, first, 'Sable', { proof, step: 'mixture' })).rejects.toThrow(
			/already stands for another step/
		);
	});
	it.each([
		[{ ...REGION, rpmFrom: 'fast' }, /not a number/],
		[{ ...REGION, kpaTo: '120' }, /ends above where it begins/],
		[{ ...REGION, rpmTo: '90000' }, /above 20000/]
	])('%j is refused, and nothing is kept', async (region, says) => {
		await expect(startProof(app(), jobId, await log(1, measure([2])), 'Sable', region)).rejects.toThrow(says);
		expect(await proofsOf(world.db, jobId)).toEqual([]);
	});
	it('a log that can’t be measured, a step that is none, a proof of another job: refused', async () => {
		await expect(startProof(app(), jobId, await log(1), 'Sable', REGION)).rejects.toThrow(/no knock channel/);
		const proof = await startProof(app(), jobId, await log(2, measure([2, 2, 2])), 'Sable', REGION);
		const next = await log(3, measure([2]));
		await expect(recordStep(app(), jobId, next, 'Sable', { proof, step: 'hope' })).rejects.toThrow(
			/no such step/
		);
		const other = await putJob(world.db, {});
		await expect(recordStep(app(), other, next, 'Sable', { proof, step: 'mixture' })).rejects.toThrow(
			/no such step/
		);
	});
});
