/** Which logs of a job speak for its next revision: what ends it, what a person says, what is kept of it. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { LogFields } from '$core/correction/grid-field.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import type { App } from '$lib/server/context.ts';
import { changeHardware } from '$lib/server/use-cases/change-hardware.ts';
import { evidenceOf, leaveOut, MOST_LOGS, speakingFor } from './log-selection.ts';
import { fieldsOf } from '$lib/server/views/log-fields.ts';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { logLine } from './logs.ts';
import { takeProposal, revision } from '$lib/server/revisions/revisions.ts';
import { poolOf } from '$lib/server/testing/pool.ts';
import { draftWith, openWorld, putJob, putLog, putScreening, type World } from '$lib/server/testing/world.ts';
import { timelineOf } from '$lib/server/jobs/timeline.ts';
import { vehicleOfJob } from '$lib/server/jobs/vehicles.ts';

let world: World;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db);
});
afterEach(() => world.close());

const NOON = '2031-05-04T12:00:00.000Z';
const LATER = new Date('2031-05-05T12:00:00Z');
const app = (): App => ({ db: world.db, dataDir: world.folder }) as App;
const change = async (what: string, at = NOON) =>
	changeHardware(app(), (await jobView(world.db, jobId))!, 'Sable', { what, at, injectors: false }, LATER);
const silent = async () =>
	Object.fromEntries((await evidenceOf(world.db, jobId)).map((l) => [l.name, l.silent]));

describe('hardware that was changed', () => {
	it('silences the logs from before, and stands on the timeline', async () => {
		await putLog(world.db, jobId, { name: 'before', at: '2031-05-03T12:00:00.000Z' });
		await putLog(world.db, jobId, { name: 'after', at: '2031-05-04T18:00:00.000Z' });
		await change('larger injectors');
		expect(await silent()).toEqual({ after: null, before: 'from before: larger injectors' });
		expect((await timelineOf(world.db, jobId)).map((e) => e.label)).toContain('Hardware changed');
	});
	it('takes baselines that were measured on the car out of the vehicle', async () => {
		const baselines = { idleMapKpa: 38, fullThrottlePct: 96 };
		jobId = await putJob(world.db, { customer: 'Ben Ash', vehicle: vehicleWith({}, { baselines }) });
		await change('larger injectors');
		expect((await vehicleOfJob(world.db, jobId)).baselines).toEqual({ fullThrottlePct: 96 });
	});
	it.each([
		['', NOON, 'say what was changed'],
		['a turbocharger', 'yesterday', 'say when it was changed'],
		['a turbocharger', '2031-06-01T00:00:00.000Z', 'in the future']
	])('is refused as %j at %s, and nothing is stored', async (what, at, why) => {
		await expect(change(what, at)).rejects.toThrow(why);
		expect((await timelineOf(world.db, jobId)).some((e) => e.kind === 'hardware')).toBe(false);
	});
});

describe('a log', () => {
	it('is left out with a reason, by name, and taken in again', async () => {
		const id = await putLog(world.db, jobId, { name: 'wet' });
		const line = (await logLine(world.db, id))!;
		await leaveOut(world.db, line, 'Sable', ' it rained ');
		expect((await evidenceOf(world.db, jobId))[0]).toMatchObject({
			silent: 'left out: it rained',
			leftOut: { reason: 'it rained', by: 'Sable' }
		});
		expect(await speakingFor(world.db, jobId, null)).toEqual([]);
		await leaveOut(world.db, line, 'Sable', '');
		expect(await speakingFor(world.db, jobId, null)).toEqual([id]);
		await expect(leaveOut(world.db, line, 'Sable', 'x'.repeat(301))).rejects.toThrow('longer than 300');
	});
	it('with a finding that its mixture can’t be believed by doesn’t speak beside another, only for itself', async () => {
		const id = await putLog(world.db, jobId, { name: 'apart' });
		await putScreening(world.db, id, [
			{ severity: 'stop', title: 'Bank 2 needs more', code: 'bank.mismatch' }
		]);
		expect(await silent()).toEqual({ apart: 'bank 2 needs more' });
		expect(await speakingFor(world.db, jobId, null)).toEqual([]);
		expect(await speakingFor(world.db, jobId, id)).toEqual([id]);
	});
	it('that isn’t read yet, or can’t be, says so', async () => {
		await putLog(world.db, jobId, { name: 'read', state: 'reading' });
		await putLog(world.db, jobId, { name: 'broken', state: 'failed' });
		expect(await silent()).toEqual({ read: 'it is being read', broken: 'it can’t be read' });
	});
	it('that a proposal is made from speaks first, then the newest others, so many as can be computed with', async () => {
		const ids: number[] = [];
		for (let n = 0; n < MOST_LOGS + 3; n++) ids.push(await putLog(world.db, jobId));
		const speaking = await speakingFor(world.db, jobId, ids[0]!);
		expect(speaking).toHaveLength(MOST_LOGS);
		expect(speaking.slice(0, 3)).toEqual([ids[0], ids.at(-1), ids.at(-2)]);
	});
});

describe('the field of a log', () => {
	it('is worked out once per screening', async () => {
		const id = await putLog(world.db, jobId);
		const fields: LogFields = {
			axes: { xChannel: 'rpm', x: [1], yChannel: 'map', y: [1] },
			all: null,
			banks: []
		};
		let asked = 0;
		const pool = poolOf({ fields: () => Promise.resolve({ ok: true, fields: (asked++, fields) }) });
		const here = { db: world.db, dataDir: world.folder, pool };
		expect(await fieldsOf(here, id)).toBeNull();
		await putScreening(world.db, id, []);
		expect(await fieldsOf(here, id)).toEqual(fields);
		await fieldsOf(here, id);
		expect(asked).toBe(1);
		await putScreening(world.db, id, []);
		await fieldsOf(here, id);
		expect(asked).toBe(2);
	});
});

describe('a proposal', () => {
	const proposal = { changes: [], held: [{ item: 'fuel.table', reason: 'r' }] };
	it('is taken into a draft that exists: its changes stay, it is decided anew', async () => {
		const draft = await draftWith(world.db, jobId);
		await takeProposal(world.db, draft.id, draft.parentId!, proposal, [7]);
		const now = (await revision(world.db, draft.id))!;
		expect(now.proposal).toMatchObject(proposal);
		expect(now.proposalLogs).toEqual([7]);
		expect(now.changes).toEqual(draft.changes);
		expect(now.version).toBe(draft.version + 1);
	});
	it('is refused by a draft of another revision', async () => {
		const draft = await draftWith(world.db, jobId);
		await expect(takeProposal(world.db, draft.id, draft.parentId! + 99, proposal, [])).rejects.toThrow(
			'a draft from another revision'
		);
		expect((await revision(world.db, draft.id))!.proposal).toBeNull();
	});
});
