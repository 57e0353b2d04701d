/** The same thing sent by many requests at once: each is answered in words, and what is stored is one of them, whole. */
import { connect } from '../../src/lib/server/db/open.ts';
import { createDraft, currentRevision, revision } from '../../src/lib/server/revisions/revisions.ts';
import { expect, test } from './page.ts';
import { shortLog } from './pieces.ts';

const TIMES = 12;

/** What each of many equal requests was answered with, the lowest first. */
const statuses = async (send: () => Promise<{ status(): number }>): Promise<number[]> =>
	(await Promise.all(Array.from({ length: TIMES }, send)))
		.map((answer) => answer.status())
		.sort((a, b) => a - b);

const every = (status: number) => Array.from({ length: TIMES }, () => status);

test('a log that comes twelve times at once is one log', async ({ request, server }) => {
	const data = shortLog(3, 60_000);
	const answers = await statuses(() => request.put('/api/v1/jobs/1/logs?name=twelve.csv', { data }));
	expect(answers[0]).toBeLessThan(300);
	expect(answers.at(-1)).toBeLessThan(500);
	const db = connect(server.folder);
	expect(
		await db
			.selectFrom('logs')
			.select('id')
			.where('name', '=', 'twelve.csv')
			.where('job_id', '=', 1)
			.execute()
	).toHaveLength(1);
	await db.destroy();
});

test('a goal and a setting that are saved twelve times at once stand once', async ({ request }) => {
	const goal = { schema: 'tanto.goal/1', revLimitRpm: 6200 };
	expect(await statuses(() => request.put('/api/v1/jobs/1/goal', { data: goal }))).toEqual(every(200));
	expect(await (await request.get('/api/v1/jobs/1/goal')).json()).toEqual(goal);
	expect(await statuses(() => request.put('/api/v1/settings/lanes', { data: ['rpm', 'map'] }))).toEqual(
		every(200)
	);
});

test('a draft that is saved and gets its file twelve times at once is changed once, and the file is whole', async ({
	request,
	server
}) => {
	const db = connect(server.folder);
	const parent = (await revision(db, (await currentRevision(db, 5)).id))!;
	const open = await db
		.selectFrom('revisions')
		.select('id')
		.where('job_id', '=', 5)
		.where('state', '=', 'draft')
		.executeTakeFirst();
	const id = open?.id ?? (await createDraft(db, parent, null, []));
	const draft = (await revision(db, id))!;
	const body = { job: 5, version: draft.version, changes: draft.changes };
	const saved = await statuses(() => request.put(`/api/v1/revisions/${id}/changes`, { data: body }));
	expect(saved).toEqual([200, ...every(409).slice(1)]);

	const file = Buffer.alloc(300_000, 7);
	const attached = await statuses(() =>
		request.put(`/api/v1/revisions/${id}/attachments?name=a.bin&hardware=h&software=s`, { data: file })
	);
	expect(attached[0]).toBeLessThan(300);
	expect(attached.at(-1)).toBeLessThan(500);
	const rows = await db.selectFrom('attachments').select('sha256').where('revision_id', '=', id).execute();
	expect(rows).toHaveLength(1);
	await db.destroy();
});
