/** Where else a thing was seen. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { findingsQuestion, searchFindings } from './findings-search.ts';
import { createJob } from './jobs.ts';
import { openWorld, putLog, SMALL_CALIBRATION, type World } from '$lib/server/testing/world.ts';

let world: World;
beforeEach(async () => void (world = await openWorld()));
afterEach(() => world.close());

interface Planted {
	code: string;
	severity?: string;
	value: number;
	rpm: [number, number];
}
async function jobWith(title: string, ...runs: Planted[][]): Promise<{ job: number; log: number }> {
	const { db } = world;
	const vehicle = vehicleWith({}, { name: `${title} car` });
	const job = await createJob(db, {
		customer: `${title} owner`,
		email: null,
		title,
		vehicle,
		calibration: SMALL_CALIBRATION
	});
	const log = await putLog(db, job);
	for (const findings of runs) {
		const report = {
			findings: findings.map((f) => ({
				code: f.code,
				severity: f.severity ?? 'fix',
				title: `${f.code} found`,
				value: f.value,
				unit: '°',
				region: { rpm: f.rpm }
			}))
		};
		const brief = {
			verdict: 'fix',
			findings: findings.map((f) => ({ key: `${f.code} key`, code: f.code, severity: 'fix', title: '' }))
		};
		await db
			.insertInto('screenings')
			.values({
				log_id: log,
				version: 'v',
				profile: '{}',
				report: JSON.stringify(report),
				cells: '[]',
				pulls: '[]',
				unmapped: '[]',
				brief: JSON.stringify(brief),
				created_at: new Date().toISOString()
			})
			.execute();
	}
	return { job, log };
}
const search = (q: Record<string, string>) => searchFindings(world.db, findingsQuestion.parse(q));

describe('findings of the workshop', () => {
	it('are found by what, how large, from which speed on, and whose', async () => {
		await jobWith('Marl', [{ code: 'knock.real', value: 4.5, rpm: [5500, 6500] }]);
		await jobWith('Finch', [{ code: 'knock.real', value: 2, rpm: [2500, 3500] }]);
		await jobWith('Ousel', [{ code: 'bank.mismatch', value: -6, rpm: [3000, 4000] }]);
		expect((await search({})).rows).toHaveLength(3);
		const hard = await search({ what: 'knock.real', least: '4', rpm: '5500' });
		expect(hard).toMatchObject({ logs: 1, jobs: 1 });
		expect(hard.rows[0]).toMatchObject({ job: 'Marl', vehicle: 'Marl car', value: 4.5, rpm: [5500, 6500] });
		await jobWith('Noted', [{ code: 'knock.timing', severity: 'note', value: 7, rpm: [2000, 6000] }]);
		expect((await search({})).rows).toHaveLength(3);
		expect((await search({ severity: 'note' })).rows.map((r) => r.job)).toEqual(['Noted']);
		// Six percent is six percent whichever way.
		expect((await search({ what: 'bank.mismatch', least: '5' })).rows).toHaveLength(1);
		expect((await search({ words: 'finch OWNER' })).rows.map((r) => r.job)).toEqual(['Finch']);
		// What isn't understood isn't asked: no search fails for an odd address.
		expect((await search({ what: 'nonsense', least: 'many' })).rows).toHaveLength(3);
	});

	it('are those of the newest screening of a log, with what a tuner said of them in the end', async () => {
		const { job, log } = await jobWith(
			'Marl',
			[{ code: 'knock.real', value: 5, rpm: [5000, 6000] }],
			[{ code: 'knock.blips', value: 1, rpm: [5000, 6000] }]
		);
		expect((await search({ what: 'knock.real' })).rows).toEqual([]);
		const answers = ['a loose heat shield', 'the shield was it'];
		for (const reason of answers)
			await world.db
				.insertInto('finding_answers')
				.values({
					job_id: job,
					log_id: log,
					key: 'knock.blips key',
					kind: 'resolved',
					severity: 'fix',
					reason,
					author: 'S',
					created_at: new Date().toISOString()
				})
				.execute();
		const { rows } = await search({ what: 'knock.blips' });
		expect(rows[0]!.answer).toEqual({ kind: 'resolved', words: 'the shield was it' });
		await world.db.updateTable('logs').set({ taken_out: '{}' }).where('id', '=', log).execute();
		expect((await search({})).rows).toEqual([]);
	});
});
