/** Stages of a job on its way to its fuel, and what went into the tank. */
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { plain } from '$core/format.ts';
import {
	STAGE_KINDS,
	STAGE_TITLES,
	stagesOf,
	type EthanolSource,
	type Fill,
	type Stage,
	type StageCall,
	type StageKind
} from '$core/fuelling/stages.ts';
import { parseWith } from '$core/parse.ts';
import type { Db } from '$lib/server/db/open.ts';
import { openStopIn } from './open-findings.ts';
import { goalOf } from './goals.ts';
import type { JobView } from './jobs.ts';
import type { PlacedEvent } from './timeline-event.ts';

export interface FillRecord extends Fill {
	id: number;
	author: string;
}

/** Fills of a job, the newest first. */
export async function fillsOf(db: Db, jobId: number): Promise<FillRecord[]> {
	const rows = await db
		.selectFrom('fills')
		.selectAll()
		.where('job_id', '=', jobId)
		.orderBy('at', 'desc')
		.orderBy('id', 'desc')
		.execute();
	return rows.map((r) => ({
		id: r.id,
		at: r.at,
		ethanolPct: r.ethanol_pct,
		octaneRon: r.octane_ron,
		source: r.source as EthanolSource,
		words: r.words,
		author: r.author
	}));
}

const number = (from: number, to: number, what: string) =>
	z
		.string()
		.trim()
		.transform((t) => (t === '' ? null : Number(t.replace(',', '.'))))
		.refine((v) => v === null || (v >= from && v <= to), `${what} is a number from ${from} to ${to}`);

const entered = z
	.object({
		at: z.iso.datetime({ message: 'say when it was filled' }),
		ethanolPct: number(0, 100, 'the ethanol content'),
		octaneRon: number(60, 130, 'the octane number'),
		source: z.enum(['sensor', 'inferred', 'stated'], 'say where the content is known from'),
		words: z.string().trim().max(300, 'the words are longer than 300 characters')
	})
	.refine((f) => f.ethanolPct !== null || f.octaneRon !== null || f.words !== '', {
		path: ['words'],
		message: 'say what was filled: its ethanol, its octane number, or in words'
	});

export type EnteredFill = z.input<typeof entered>;

/** @throws InputError naming the field */
export async function noteFill(
	db: Db,
	jobId: number,
	author: string,
	fill: Record<keyof EnteredFill, string>,
	now = new Date()
): Promise<void> {
	const { at, ethanolPct, octaneRon, source, words } = parseWith(entered, fill);
	if (new Date(at) > now) throw new InputError('it was filled in the future: say when it was', 'at');
	await db
		.insertInto('fills')
		.values({
			job_id: jobId,
			at: new Date(at).toISOString(),
			ethanol_pct: ethanolPct,
			octane_ron: octaneRon,
			source,
			words,
			author,
			created_at: now.toISOString()
		})
		.execute();
}

export async function stagesOfJob(db: Db, job: Pick<JobView, 'id' | 'vehicle'>): Promise<Stage[]> {
	const calls = await db
		.selectFrom('stage_calls')
		.select(['kind', 'words', 'author', 'created_at'])
		.where('job_id', '=', job.id)
		.orderBy('id')
		.execute();
	const injectors = await db
		.selectFrom('hardware_changes')
		.select('at')
		.where('job_id', '=', job.id)
		.where('injectors', '=', 1)
		.orderBy('at', 'desc')
		.executeTakeFirst();
	const logs = await db
		.selectFrom('logs')
		.select('received_at')
		.where('job_id', '=', job.id)
		.where('state', '=', 'screened')
		.where('taken_out', 'is', null)
		.orderBy('received_at')
		.execute();
	const stop = await openStopIn(db, job.id);
	return stagesOf({
		goal: await goalOf(db, job.id),
		vehicle: job.vehicle,
		done: calls.map((c): StageCall => ({
			kind: c.kind as StageKind,
			words: c.words,
			author: c.author,
			at: c.created_at
		})),
		injectorsAt: injectors?.at ?? null,
		logsAt: logs.map((l) => l.received_at),
		openStop: stop === null ? null : plain(stop),
		fill: (await fillsOf(db, job.id))[0] ?? null
	});
}

const LEAST_WORDS = 10;
const MOST_WORDS = 1000;

/** Calls a stage done. @throws InputError saying why it can't be yet */
export async function callStage(
	db: Db,
	job: Pick<JobView, 'id' | 'vehicle'>,
	author: string,
	kind: string,
	words: string,
	now = new Date()
): Promise<void> {
	// Two clicks at once are one call.
	await db.transaction().execute(async (trx) => {
		const known = STAGE_KINDS.find((k) => k === kind);
		const stage = (await stagesOfJob(trx, job)).find((s) => s.kind === known);
		if (!known || !stage) throw new InputError('this job has no such stage', 'stage');
		if (stage.call) throw new InputError(`${stage.title} was completed already`, 'stage');
		if (stage.notYet) throw new InputError(`${stage.title} can't be completed yet: ${stage.notYet}`, 'stage');
		const said = words.trim();
		if (said.length < LEAST_WORDS)
			throw new InputError('write what says that it is done (a sentence)', 'words');
		if (said.length > MOST_WORDS)
			throw new InputError(`the words are longer than ${MOST_WORDS} characters`, 'words');
		await trx
			.insertInto('stage_calls')
			.values({ job_id: job.id, kind: known, words: said, author, created_at: now.toISOString() })
			.execute();
	});
}

/** Stages that were called done, for the timeline. */
export async function stageEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('stage_calls')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'stage_calls.id').on('timeline.kind', '=', 'stage')
		)
		.select(['id', 'stage_calls.kind', 'words', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((s) => ({
		n: s.n,
		kind: 'stage',
		id: s.id,
		label: `${STAGE_TITLES[s.kind as StageKind]} done`,
		at: s.created_at,
		state: 'stage',
		detail: s.words
	}));
}

/** Fills of the tank, for the timeline. */
export async function fillEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('fills')
		.innerJoin('timeline', (on) => on.onRef('timeline.ref', '=', 'fills.id').on('timeline.kind', '=', 'fill'))
		.select(['id', 'at', 'ethanol_pct', 'octane_ron', 'words', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((f) => ({
		n: f.n,
		kind: 'fill',
		id: f.id,
		label: 'Filled up',
		at: f.at,
		state: 'fill',
		detail: [
			...(f.ethanol_pct === null ? [] : [`${f.ethanol_pct} % ethanol`]),
			...(f.octane_ron === null ? [] : [`RON ${f.octane_ron}`]),
			...(f.words ? [f.words] : [])
		].join(', ')
	}));
}
