/** Swap tests and plugs as records of a job: who may stand for what, what is kept, what stands in the way of a mistake. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { parsePlugs } from '$core/plugs/document.ts';
import { parseSwap } from '$core/swaps/document.ts';
import type { SwapAnswer } from '$core/swaps/answer.ts';
import { takeOut, logsOf } from '$lib/server/logs/logs.ts';
import { keepPlugs, plugsOf } from './plug-readings.ts';
import { proposePlugs } from '$lib/server/use-cases/answer-plugs.ts';
import { ask, currentRequest } from './drive-plans.ts';
import { revision, revisionsOf } from '$lib/server/revisions/revisions.ts';
import { beginSwap, causesFor, dropSwap, standingFor, swapsOf } from './swap-tests.ts';
import { bindArrived, bindLog } from '$lib/server/use-cases/answer-swap.ts';
import { poolOf } from '$lib/server/testing/pool.ts';
import { openWorld, putJob, putLog, type World } from '$lib/server/testing/world.ts';
import { timelineOf } from './timeline.ts';

let world: World;
let id: number;
let asked: { before: number; after: number; back: number | null }[] = [];
let answers: SwapAnswer['answer'][] = [];
const app = () => ({
	db: world.db,
	dataDir: world.folder,
	pool: poolOf({
		swap: (t: { before: number; after: number; back: number | null }) => {
			asked.push({ before: t.before, after: t.after, back: t.back });
			return Promise.resolve({
				ok: true,
				answer: { answer: answers.shift(), why: 'it moved', next: ['flow it'] }
			});
		},
		plugs: () =>
			Promise.resolve({
				ok: true,
				answer: {
					changes: [{ item: 'fuel.cylTrim', cylinder: 1, from: 0, to: 1, reason: 'A quarter is gone' }],
					held: [{ cylinder: null, reason: 'Wait' }],
					findings: [],
					bankMean: []
				}
			})
	})
});
const INJECTORS = parseSwap({ schema: 'tanto.swap/1', kind: 'injectors-side-to-side' });
const KEY = 'bank.mismatch b2';
const planOf = (title: string) => ({
	schema: 'tanto.request/1' as const,
	title,
	manoeuvres: [],
	channels: []
});

beforeEach(async () => {
	world = await openWorld();
	asked = [];
	answers = [];
	id = await putJob(world.db);
});
afterEach(() => world.close());

const begin = async (before: number, requestId: number | null = null) =>
	beginSwap(world.db, id, INJECTORS, { finding: KEY, before, requestId }, 'Sable');

describe('a swap test that is refused', () => {
	it('leaves the customer’s plan as it is', async () => {
		await ask(world.db, id, 'idle', planOf('Idle'));
		const begun = world.db.transaction().execute(async (trx) => {
			const requestId = await ask(trx, id, 'bank-swap', planOf('Swap'));
			await beginSwap(trx, id, INJECTORS, { finding: KEY, before: 99, requestId }, 'Sable');
		});
		await expect(begun).rejects.toThrow('no such log');
		expect((await currentRequest(world.db, id))!.template).toBe('idle');
		expect(await swapsOf(world.db, id)).toEqual([]);
	});
});

describe('a swap test', () => {
	it('is answered by the log that is bound to it, and again with everything put back', async () => {
		const [a, b, c] = [await putLog(world.db, id), await putLog(world.db, id), await putLog(world.db, id)];
		const test = await begin(a);
		answers = ['gone', 'two-parts'];
		await expect(bindLog(app(), id, test, 'back', c)).rejects.toThrow('comes first');
		await bindLog(app(), id, test, 'after', b);
		expect((await swapsOf(world.db, id))[0]).toMatchObject({ after: b, answer: { answer: 'gone' } });
		await expect(bindLog(app(), id, test, 'back', b)).rejects.toThrow('another part of the test');
		await bindLog(app(), id, test, 'back', c);
		expect(asked).toEqual([
			{ before: a, after: b, back: null },
			{ before: a, after: b, back: c }
		]);
		expect((await swapsOf(world.db, id))[0]!.answer!.answer).toBe('two-parts');
		expect((await timelineOf(world.db, id)).at(-1)).toMatchObject({
			label: 'Test: injectors from side to side',
			detail: 'two parts'
		});
	});
	it('takes no log of another job, none that is not read, and none that was taken out', async () => {
		const other = await putLog(world.db, await putJob(world.db, { title: 'another' }));
		const unread = await putLog(world.db, id, { state: 'reading' });
		const out = await putLog(world.db, id);
		await takeOut(
			world.db,
			(await logsOf(world.db, id)).find((l) => l.id === out)!,
			'Sable',
			'the wrong car'
		);
		await expect(begin(other)).rejects.toThrow('no such log');
		await expect(begin(unread)).rejects.toThrow('not read yet');
		await expect(begin(out)).rejects.toThrow('no such log');
		expect(await swapsOf(world.db, id)).toEqual([]);
	});
	it('is answered by itself by the log that answers its drive plan, and by no other', async () => {
		const before = await putLog(world.db, id);
		const plan = await ask(world.db, id, 'bank-swap', { schema: 'tanto.request/1', title: 'Bank swap' });
		await begin(before, plan);
		answers = ['moved'];
		await bindArrived(app(), before);
		const stray = await putLog(world.db, id);
		await bindArrived(app(), stray);
		expect(asked).toEqual([]);
		const after = await putLog(world.db, id);
		await world.db.updateTable('logs').set({ request_id: plan }).where('id', '=', after).execute();
		await bindArrived(app(), after);
		await bindArrived(app(), after);
		expect(asked).toEqual([{ before, after, back: null }]);
	});
	it('is taken back while it has no answer, and stays afterwards', async () => {
		const [a, b] = [await putLog(world.db, id), await putLog(world.db, id)];
		await dropSwap(world.db, id, await begin(a));
		expect(await swapsOf(world.db, id)).toEqual([]);
		expect((await timelineOf(world.db, id)).some((e) => e.kind === 'swap')).toBe(false);
		const test = await begin(a);
		answers = ['stayed'];
		await bindLog(app(), id, test, 'after', b);
		await expect(dropSwap(world.db, id, test)).rejects.toThrow('stays in the record');
	});
	it('gives the hold of its finding its reason once the cause is named, whichever bank shows it now', async () => {
		const [a, b] = [await putLog(world.db, id), await putLog(world.db, id)];
		const test = await begin(a);
		const holds = [
			{ id: 'finding bank.mismatch b1', finding: 'bank.mismatch b1' },
			{ id: 'fuel-removed', finding: 'bank.mismatch b1' },
			{ id: 'log' }
		];
		expect(await causesFor(world.db, id, holds)).toEqual({});
		answers = ['moved'];
		await bindLog(app(), id, test, 'after', b);
		expect(await causesFor(world.db, id, holds)).toEqual({
			'finding bank.mismatch b1': 'The cause is found: it moved',
			'fuel-removed': 'The cause is found: it moved'
		});
		expect(standingFor(await swapsOf(world.db, id), 'cyl.lambda c1')).toBeNull();
	});
});

describe('plugs', () => {
	const plugs = parsePlugs({
		schema: 'tanto.plugs/1',
		plated: true,
		newForSession: true,
		passes: 2,
		cutAfterPass: true,
		readings: [{ cylinder: 1, plating: 'quarter' }]
	});
	const frozen = async () => (await revisionsOf(world.db, id))[0]!.id;
	it('are kept with the revision that was driven, and of this job only', async () => {
		const log = await putLog(world.db, id);
		await keepPlugs(world.db, id, plugs, { revisionId: await frozen(), logId: log }, 'Sable');
		expect(await plugsOf(world.db, id)).toMatchObject([{ logId: log, author: 'Sable', plugs }]);
		expect((await timelineOf(world.db, id)).at(-1)).toMatchObject({ label: 'Plugs read', kind: 'plugs' });
		const other = await putJob(world.db, { title: 'another' });
		await expect(
			keepPlugs(world.db, other, plugs, { revisionId: await frozen(), logId: null }, 'Sable')
		).rejects.toThrow('frozen revision');
		await expect(
			keepPlugs(world.db, id, plugs, { revisionId: await frozen(), logId: log + 7 }, 'Sable')
		).rejects.toThrow('no such log');
	});
	it('of a cylinder that the engine doesn’t have are refused; those that stand are left out of what is read', async () => {
		const ninth = { ...plugs, readings: [...plugs.readings, { cylinder: 9, plating: 'none' as const }] };
		const about = { revisionId: await frozen(), logId: null };
		await expect(keepPlugs(world.db, id, ninth, about, 'Sable')).rejects.toThrow('there is no cylinder 9');
		expect(await plugsOf(world.db, id)).toEqual([]);
		await keepPlugs(world.db, id, plugs, about, 'Sable');
		await world.db
			.updateTable('plug_readings')
			.set({ document: JSON.stringify(ninth) })
			.execute();
		expect((await plugsOf(world.db, id))[0]!.plugs.readings).toEqual(plugs.readings);
	});
	it('become proposals of a new draft, or of the one that is open', async () => {
		await keepPlugs(world.db, id, plugs, { revisionId: await frozen(), logId: null }, 'Sable');
		const [record] = await plugsOf(world.db, id);
		const draft = (await revision(world.db, await proposePlugs(app(), id, record!)))!;
		expect(draft.proposal!.changes).toMatchObject([
			{ item: 'fuel.cylTrim', reason: 'Cylinder 1: a quarter is gone', cells: [{ x: 1, to: 1 }] }
		]);
		expect(draft.proposal!.held).toMatchObject([{ reason: 'Wait' }]);
		expect(await proposePlugs(app(), id, record!)).toBe(draft.id);
	});
});
