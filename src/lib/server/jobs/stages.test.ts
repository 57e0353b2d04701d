/** Stages and fills as they are stored: refused whole, void after other injectors, on the timeline, gone with the customer. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { changeHardware } from '$lib/server/use-cases/change-hardware.ts';
import { saveGoal } from './goals.ts';
import { jobView } from './jobs.ts';
import { callStage, fillsOf, noteFill, stagesOfJob } from './stages.ts';
import { openWorld, putJob, putLog, type World } from '$lib/server/testing/world.ts';
import { timelineOf } from './timeline.ts';

let world: World;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db, {});
	await saveGoal(world.db, jobId, { schema: 'tanto.goal/1', ethanolPct: 85 });
});
afterEach(() => world.close());

const job = async () => (await jobView(world.db, jobId))!;
const states = async () => (await stagesOfJob(world.db, await job())).map((s) => `${s.kind} ${s.state}`);
const fill = (more: object = {}) => ({
	at: '2026-03-02T10:00:00.000Z',
	ethanolPct: '71,5',
	octaneRon: '',
	source: 'sensor',
	words: 'from the pump by the quarry',
	...more
});
const WORDS = 'idle and cruise hold, one pull was clean';
const on = (n: number) => new Date(`2026-03-0${n}T12:00:00.000Z`);

describe('stages', () => {
	it('are called done one after the other, each after a log of its own', async () => {
		expect(await states()).toEqual(['first-start open', 'ordinary closed', 'ethanol closed']);
		await expect(callStage(world.db, await job(), 'Sable', 'first-start', WORDS)).rejects.toThrow(
			/No log was made in this stage/
		);
		await putLog(world.db, jobId, { at: '2026-03-01T08:00:00.000Z' });
		expect(await states()).toEqual(['ordinary open', 'ethanol closed']);
		await expect(callStage(world.db, await job(), 'Sable', 'ethanol', WORDS)).rejects.toThrow(
			/Opens when ordinary fuel is complete/
		);
		await expect(callStage(world.db, await job(), 'Sable', 'ordinary', 'fine')).rejects.toThrow(/a sentence/);
		await callStage(world.db, await job(), 'Sable', 'ordinary', WORDS, on(1));
		await noteFill(world.db, jobId, 'Sable', fill());
		expect(await states()).toEqual(['ordinary done', 'ethanol open']);
		await expect(callStage(world.db, await job(), 'Sable', 'ordinary', WORDS)).rejects.toThrow(/already/);
		await expect(callStage(world.db, await job(), 'Sable', 'warp', WORDS)).rejects.toThrow(/no such stage/);
	});
	it('are void once other injectors are in', async () => {
		await putLog(world.db, jobId, { at: '2026-03-01T08:00:00.000Z' });
		await callStage(world.db, await job(), 'Sable', 'ordinary', WORDS, on(1));
		const app = { db: world.db } as Parameters<typeof changeHardware>[0];
		await changeHardware(
			app,
			await job(),
			'Sable',
			{ what: 'bigger injectors', at: on(3).toISOString(), injectors: true },
			on(4)
		);
		expect(await states()).toEqual(['first-start open', 'ordinary closed', 'ethanol closed']);
	});
});

describe('fills', () => {
	it('are kept with where their content is known from, and stand on the timeline', async () => {
		await noteFill(world.db, jobId, 'Sable', fill());
		expect(await fillsOf(world.db, jobId)).toMatchObject([
			{ ethanolPct: 71.5, octaneRon: null, source: 'sensor', author: 'Sable' }
		]);
		expect((await timelineOf(world.db, jobId)).at(-1)).toMatchObject({
			kind: 'fill',
			detail: '71.5 % ethanol, from the pump by the quarry'
		});
	});
	it.each([
		[{ ethanolPct: '171' }, /0 to 100/],
		[{ ethanolPct: 'much' }, /0 to 100/],
		[{ octaneRon: '9' }, /60 to 130/],
		[{ source: 'guessed' }, /known from/],
		[{ at: '' }, /when it was filled/],
		[{ at: '2999-01-01T00:00:00.000Z' }, /future/],
		[{ ethanolPct: '', words: '' }, /what was filled/]
	])('%j is refused, and nothing is kept', async (more, says) => {
		await expect(noteFill(world.db, jobId, 'Sable', fill(more))).rejects.toThrow(says);
		expect(await fillsOf(world.db, jobId)).toEqual([]);
	});
});
