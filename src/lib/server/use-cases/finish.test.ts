/** Calling a tune done: what stands open is named, and taken only with a reason that stays. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { find } from '$lib/server/jobs/customers.ts';
import { openIn } from '$lib/server/jobs/open-findings.ts';
import { finish } from './finish.ts';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { logsOf, takeOut } from '$lib/server/logs/logs.ts';
import type { Mailer } from '$lib/server/mail/mailer.ts';
import { messagesOf, reportProblem } from '$lib/server/jobs/messages.ts';
import { newestLog } from '$lib/server/jobs/newest-log.ts';
import { confirmInstalled } from '$lib/server/revisions/revision-events.ts';
import { revision } from '$lib/server/revisions/revisions.ts';
import {
	draftWith,
	openWorld,
	putJob,
	putLog,
	putScreening,
	releaseAll,
	type World
} from '$lib/server/testing/world.ts';

let world: World;
let id: number;
let woken = 0;
const mailer = { put: () => Promise.resolve(1), wake: () => void woken++, off: null } as unknown as Mailer;
const app = () => ({ db: world.db, mailer });
const job = async () => (await jobView(world.db, id))!;
const texts = async () => (await openIn(world.db, id)).map((o) => o.text);
beforeEach(async () => {
	world = await openWorld();
	woken = 0;
	id = await putJob(world.db, { email: null });
});
afterEach(() => world.close());

describe('a tune', () => {
	it('that nobody has judged, drafted or driven is not simply done', async () => {
		expect(await texts()).toEqual(['No log of it was ever judged']);
		const log = await putLog(world.db, id);
		await putScreening(world.db, log, [
			{ severity: 'stop', title: 'Lean under load' },
			{ severity: 'watch', title: 'Warm' }
		]);
		const draft = await draftWith(world.db, id);
		expect(await openIn(world.db, id)).toEqual([
			{ text: 'Open at stop: Lean under load', stop: true },
			{ text: 'R1 is still a draft', stop: false }
		]);
		await releaseAll(world.db, draft);
		expect(await texts()).toContain('R1 was sent, and nobody said that it is in the car');
		await confirmInstalled(world.db, (await revision(world.db, draft.id))!, 'Ines');
		expect(await texts()).toEqual(['Open at stop: Lean under load', 'No log was made with R1']);
	});
	it('is called done over what stands open only with a reason, which is kept with it', async () => {
		const log = await putLog(world.db, id);
		await putScreening(world.db, log, [{ severity: 'stop', title: 'Lean under load' }]);
		const words = 'All is well, drive it gently for a week.';
		await expect(finish(app(), await job(), 'Ann', 'ok', '')).rejects.toThrow(
			'write what the customer should know'
		);
		await expect(finish(app(), await job(), 'Ann', words, 'because')).rejects.toThrow(
			'Open at stop: Lean under load'
		);
		expect((await job()).done).toBeNull();
		await finish(app(), await job(), 'Ann', words, 'the customer sells the car as it is');
		expect((await job()).done).toMatchObject({ words });
		expect((await job()).waitingOn).toBe('customer');
		expect(woken).toBe(1);
		const [note, message] = await messagesOf(world.db, id);
		expect(note).toMatchObject({ kind: 'note', author: 'Ann' });
		expect(note!.body).toContain('Open at stop: Lean under load');
		expect(note!.body).toContain('the customer sells the car as it is');
		expect(message).toMatchObject({ kind: 'to-customer', body: `Your tune is done.\n\n${words}` });
	});
	it('with nothing open is done without a reason', async () => {
		await putScreening(world.db, await putLog(world.db, id), []);
		expect(await texts()).toEqual([]);
		await finish(app(), await job(), 'Ann', 'It is as good as this fuel allows.', '');
		expect((await job()).done).not.toBeNull();
	});
});

describe('a log that was taken out', () => {
	it('speaks for nothing, stays in the record, and comes back', async () => {
		const log = await putLog(world.db, id);
		await putScreening(world.db, log, [{ severity: 'stop', title: 'Lean under load' }]);
		const [line] = await logsOf(world.db, id);
		await takeOut(world.db, line!, 'Ann', 'another car');
		expect(await newestLog(world.db, id)).toBeNull();
		const [out] = await logsOf(world.db, id);
		expect(out!.takenOut).toEqual({ reason: 'another car', by: 'Ann' });
		await takeOut(world.db, out!, 'Ann', '');
		expect((await newestLog(world.db, id))?.id).toBe(log);
	});
});

it('a problem without a recording waits for the tuner, in the customer’s words', async () => {
	await reportProblem(world.db, { id, customer: 'Ines' }, 'the oil lamp came on');
	expect((await messagesOf(world.db, id))[0]).toMatchObject({
		kind: 'from-customer',
		author: 'Ines',
		body: 'A problem, not recorded: the oil lamp came on'
	});
	expect((await job()).waitingOn).toBe('tuner');
	await expect(reportProblem(world.db, { id, customer: 'Ines' }, '  ')).rejects.toThrow('write something');
});

it('jobs and customers are found by every word of them, jobs first', async () => {
	await putJob(world.db, { customer: 'Ines Varga', title: 'Kestrel at the hill' });
	expect((await find(world.db, 'varga HILL')).map((f) => [f.kind, f.title])).toEqual([
		['job', 'Kestrel at the hill']
	]);
	expect((await find(world.db, 'varga')).map((f) => f.kind)).toEqual(['job', 'customer']);
	expect(await find(world.db, ' ')).toEqual([]);
	expect(await find(world.db, 'varga nobody')).toEqual([]);
});
