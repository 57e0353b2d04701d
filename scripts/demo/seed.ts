/** Seeds the demo world through the same code that the server uses: `seed.ts DATA_DIR`. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { App } from '../../src/lib/server/context.ts';
import { closeApp, openApp } from '../../src/lib/server/app.ts';
import { receive, textBody } from '../../src/lib/server/storage/files.ts';
import { planFrom } from '../../src/core/planning/templates.ts';
import { createTuner, tuners } from '../../src/lib/server/auth/accounts.ts';
import { DEMO_TUNER } from '../../src/lib/server/db/demo.ts';
import { saveGoal } from '../../src/lib/server/jobs/goals.ts';
import { proposeRung } from '../../src/lib/server/views/ladders.ts';
import { createJob, jobView, setWaiting } from '../../src/lib/server/jobs/jobs.ts';
import { addLog } from '../../src/lib/server/use-cases/receive.ts';
import { answerInspection } from '../../src/lib/server/jobs/inspection.ts';
import { addNote } from '../../src/lib/server/jobs/messages.ts';
import { recordingKit } from './kit.ts';
import { keepMaxima } from '../../src/lib/server/jobs/maxima.ts';
import { ask } from '../../src/lib/server/jobs/drive-plans.ts';
import { swapPlan } from '../../src/core/swaps/plan.ts';
import { keepPlugs } from '../../src/lib/server/jobs/plug-readings.ts';
import { callStage, noteFill } from '../../src/lib/server/jobs/stages.ts';
import { beginSwap } from '../../src/lib/server/jobs/swap-tests.ts';
import { settled } from '../../src/lib/server/use-cases/screen.ts';
import { vehicleOfJob } from '../../src/lib/server/jobs/vehicles.ts';
import { customerNotes } from '../../src/core/revising/customer-notes.ts';
import { examinedOf, releaseCheck } from '../../src/lib/server/revisions/release-check.ts';
import { replayOf } from '../../src/lib/server/views/replays.ts';
import { fitInjectors } from '../../src/lib/server/use-cases/other-injectors.ts';
import { freeze } from '../../src/lib/server/use-cases/release.ts';
import {
	createDraft,
	currentRevision,
	revision,
	saveChanges
} from '../../src/lib/server/revisions/revisions.ts';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { stories, type Story } from './world.ts';

const HOUR = 3_600_000;

/** Proposes from a log and accepts everything, as a tuner would who agrees. */
async function revise(app: App, jobId: number, logId: number, frozen: boolean, at: Date): Promise<void> {
	const parent = await revision(app.db, (await currentRevision(app.db, jobId)).id);
	const answer = await app.pool.run('propose', {
		dataDir: app.dataDir,
		logIds: [logId],
		revisionId: parent!.id
	});
	if (!answer.ok) throw new Error(answer.message);
	const id = await createDraft(app.db, parent!, answer.proposal, [logId], at);
	await acceptAll(app, id);
	if (frozen)
		await releaseAs(app, jobId, id, 'The table is corrected from measured cells; full load comes next', at);
}

/** What the ladder says comes next, released with the reason of the person who climbs. */
async function climb(app: App, jobId: number, at: Date): Promise<void> {
	const reason = 'Nothing was pulled in three pulls, and the monitor stayed still';
	const id = await proposeRung(app, jobId, 'rung', reason);
	await acceptAll(app, id);
	await releaseAs(app, jobId, id, reason, at);
}

async function acceptAll(app: App, draftId: number): Promise<void> {
	const draft = (await revision(app.db, draftId))!;
	await saveChanges(
		app.db,
		draft,
		draft.proposal!.changes.flatMap((c) =>
			c.cells.map((cell) => ({ ...cell, item: c.item, reason: c.reason, findings: c.findings }))
		)
	);
}

async function releaseAs(app: App, jobId: number, id: number, reason: string, at: Date): Promise<void> {
	const ready = (await revision(app.db, id))!;
	const replayed = await replayOf(app, ready);
	const check = await releaseCheck(app.db, ready, replayed);
	await freeze(
		app.db,
		ready,
		{
			notes: customerNotes(ready.changes, ready.edits, ready.calibration, await vehicleOfJob(app.db, jobId)),
			answers: Object.fromEntries(check.holds.map((h) => [h.id, reason])),
			author: DEMO_TUNER.name,
			filesConfirmed: true,
			givesTables: false,
			examined: await examinedOf(app.db, ready)
		},
		replayed,
		at
	);
	await setWaiting(app.db, jobId, 'customer', at);
}

/** Other injectors, and the revision for them. */
async function fit(app: App, jobId: number, fields: Record<string, string>, at: Date): Promise<void> {
	const job = (await jobView(app.db, jobId))!;
	const draft = await fitInjectors(app, job, DEMO_TUNER.name, { ...fields, at: at.toISOString() }, at);
	await settled();
	await releaseAs(app, jobId, draft, 'The same fuel through other injectors; checked for leaks.', at);
}

/** What was asked, said and looked at in a story, at the time when it was. */
async function talk(app: App, jobId: number, story: Story, at: Date): Promise<void> {
	const job = (await jobView(app.db, jobId))!;
	if (story.plan)
		await ask(
			app.db,
			jobId,
			story.plan,
			planFrom(story.plan, job.vehicle, {
				speedCapKmh: story.speedCapKmh ?? null,
				...(story.gears ? { gears: story.gears } : {})
			}),
			at
		);
	for (const note of story.notes ?? []) await addNote(app.db, jobId, DEMO_TUNER.name, note, at);
	for (const [item, state, remark] of story.inspection ?? [])
		await answerInspection(app.db, jobId, { item, state, remark }, at);
}

/** Whose jobs they are: told when the account is made. */
let demoTuner: { id: string; name: string } | null = null;

async function tell(app: App, story: Story): Promise<void> {
	const ago = (hours: number) => new Date(Date.now() - hours * HOUR);
	const started = (story.logs[0]?.hoursAgo ?? 20) + 30;
	const jobId = await createJob(app.db, story, ago(started), demoTuner);
	await talk(app, jobId, story, ago(started - 1));
	if (story.goal) await saveGoal(app.db, jobId, story.goal);
	for (const log of story.logs) {
		const current = await revision(app.db, (await currentRevision(app.db, jobId)).id);
		const inCar = log.reallyWith === 'baseline' ? story.calibration : current!.calibration;
		const text = drive(await vehicleOfJob(app.db, jobId), inCar, log.faults, log.seed, {
			monitor: log.monitor ?? false
		});
		const file = await receive(app.dataDir, textBody(text), 1 << 30);
		const { id } = await addLog(app, jobId, log.name, file, 'customer', {
			now: ago(log.hoursAgo),
			words: {
				kind: log.problemAtS === undefined ? 'drive' : 'problem',
				words: log.words ?? '',
				momentS: log.problemAtS ?? null,
				answers: log.answers ?? {},
				revisionId: current!.id
			}
		});
		await settled();
		if (log.swap) {
			const { document, finding } = log.swap;
			const plan = swapPlan(document, story.vehicle, { speedCapKmh: null });
			const requestId = await ask(app.db, jobId, 'bank-swap', plan, ago(log.hoursAgo - 1));
			await beginSwap(
				app.db,
				jobId,
				document,
				{ finding, before: id, requestId },
				DEMO_TUNER.name,
				ago(log.hoursAgo - 1)
			);
		}
		if (log.plugs)
			await keepPlugs(
				app.db,
				jobId,
				log.plugs,
				{ revisionId: current!.id, logId: id },
				DEMO_TUNER.name,
				ago(log.hoursAgo - 1)
			);
		if (log.then === 'rung') await climb(app, jobId, ago(log.hoursAgo - 1));
		else if (log.then) await revise(app, jobId, id, log.then === 'release', ago(log.hoursAgo - 1));
		if (log.fits) await fit(app, jobId, log.fits, ago(log.hoursAgo - 20));
	}
	if (story.maxima)
		await keepMaxima(
			app.db,
			jobId,
			(await currentRevision(app.db, jobId)).id,
			DEMO_TUNER.name,
			story.maxima,
			ago(3)
		);
	if (story.between) {
		const { words, fill, hoursAgo } = story.between;
		const job = (await jobView(app.db, jobId))!;
		await callStage(app.db, job, DEMO_TUNER.name, 'ordinary', words, ago(hoursAgo + 1));
		const entered = { ...fill, at: ago(hoursAgo).toISOString(), octaneRon: '', source: 'sensor' };
		await noteFill(app.db, jobId, DEMO_TUNER.name, entered, ago(hoursAgo));
	}
	process.stderr.write(`  ${story.title}\n`);
}

/** The stories are told one after another and happened side by side: the jobs begin to wait in the order of their times. */
async function waitInOrder(app: App): Promise<void> {
	const jobs = await app.db
		.selectFrom('jobs')
		.select(['id', 'waiting_on', 'waiting_since'])
		.orderBy('waiting_since')
		.execute();
	for (const j of jobs) await setWaiting(app.db, j.id, j.waiting_on, new Date(j.waiting_since));
}

const dataDir = process.argv[2];
if (!dataDir) throw new Error('seed.ts takes the data folder');
process.env['TANTO_LOG_LEVEL'] ??= 'warn';
const app = await openApp(dataDir);
await createTuner(app.auth, DEMO_TUNER);
demoTuner = (await tuners(app.db))[0] ?? null;
app.setupCode = null;
await recordingKit(app, DEMO_TUNER.name, new Date(Date.now() - 900 * 3_600_000));
for (const story of stories()) await tell(app, story);
await waitInOrder(app);
await closeApp(app);
writeFileSync(join(dataDir, 'seeded'), new Date().toISOString());
