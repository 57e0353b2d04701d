/**
 * Columns of a log in the database: packed blocks of 64 k samples per channel, and a minimum/maximum pyramid that answers any zoom.
 * Read by column, never by row.
 */
import { channelKind } from '$core/channels/canonical.ts';
import {
	lowerBound,
	PYRAMID_FACTOR,
	window,
	type LevelPart,
	type TraceWindow
} from '$core/logfile/pyramid.ts';
import type { Contradiction } from '$core/channels/reading.ts';
import type { BundleHead } from '$core/logfile/bundle.ts';
import type { Log, LogChannel, TimeFaults } from '$core/logfile/log.ts';
import { inflateRawSync } from 'node:zlib';
import { unpack32, unpackClock } from '$core/logfile/pack.ts';
import type { Selectable } from 'kysely';
import type { LogChannelTable } from '$lib/server/db/schema/logs.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { LogQuestion } from './logs.ts';
import { BLOCK } from './store-columns.ts';

/** Blocks of a level, those between two of its values or all. */
async function blocks(
	db: Db,
	row: number,
	level: number,
	from = 0,
	to = Number.MAX_SAFE_INTEGER
): Promise<Uint8Array[]> {
	return (await storedBlocks(db, row, level, from, to)).map((b) => inflateRawSync(b));
}

async function storedBlocks(
	db: Db,
	row: number,
	level: number,
	from = 0,
	to = Number.MAX_SAFE_INTEGER
): Promise<Uint8Array[]> {
	const parts = await db
		.selectFrom('log_blocks')
		.select('bytes')
		.where('channel_row', '=', row)
		.where('level', '=', level)
		.where('block', '>=', Math.floor(from / BLOCK))
		.where('block', '<=', Math.floor(to / BLOCK))
		.orderBy('block')
		.execute();
	return parts.map((p) => p.bytes);
}

function joined<T extends Float32Array | Float64Array>(parts: T[], make: (length: number) => T): T {
	if (parts.length === 1) return parts[0]!;
	const out = make(parts.reduce((n, p) => n + p.length, 0));
	let at = 0;
	for (const p of parts) {
		out.set(p, at);
		at += p.length;
	}
	return out;
}

interface ColumnRow {
	id: number;
	scale: number;
	shift: number;
}

async function column(
	db: Db,
	row: ColumnRow,
	level: number,
	from = 0,
	to = Number.MAX_SAFE_INTEGER
): Promise<LevelPart> {
	const conversion = { scale: row.scale, offset: row.shift };
	const parts = (await blocks(db, row.id, level, from, to)).map((b) => unpack32(b, conversion));
	return { values: joined(parts, (n) => new Float32Array(n)), at: Math.floor(from / BLOCK) * BLOCK };
}

async function clock(db: Db, row: number): Promise<Float64Array> {
	return joined((await blocks(db, row, 0)).map(unpackClock), (n) => new Float64Array(n));
}

/** What a stored channel is, without its samples. */
type StoredChannel = Omit<LogChannel, 'timeS' | 'values'> & { base: number };

function storedChannel(r: Selectable<LogChannelTable>): StoredChannel {
	channelKind(r.channel);
	return {
		base: r.base,
		id: r.channel,
		raw: r.raw,
		rawUnit: r.raw_unit,
		unit: r.unit,
		note: r.note,
		source: r.source === 'assigned' ? 'assigned' : 'recognised',
		contradiction: r.contradiction ? (JSON.parse(r.contradiction) as Contradiction) : null,
		undecided: null,
		readAs: r.read_as,
		conversion: { scale: r.scale, offset: r.shift },
		rateHz: r.rate_hz,
		texts: JSON.parse(r.texts) as string[]
	};
}

/** The channels of a log's own reading. */
function ofRun(db: Db, logId: number) {
	return db
		.selectFrom('log_channels')
		.innerJoin('logs', (join) =>
			join.onRef('logs.id', '=', 'log_channels.log_id').onRef('logs.run', '=', 'log_channels.run')
		)
		.where('logs.id', '=', logId);
}

async function storedRows(db: Db, logId: number) {
	return ofRun(db, logId).selectAll('log_channels').orderBy('log_channels.id').execute();
}

async function aboutLog(db: Db, logId: number): Promise<Pick<Log, 'rows' | 'durationS' | 'timeFaults'>> {
	const row = await db
		.selectFrom('logs')
		.select(['rows', 'duration_s', 'time_faults'])
		.where('id', '=', logId)
		.executeTakeFirstOrThrow();
	return {
		rows: row.rows,
		durationS: row.duration_s,
		timeFaults: row.time_faults
			? (JSON.parse(row.time_faults) as TimeFaults)
			: { restartsS: [], repeated: 0, backward: 0 }
	};
}

/** What a log holds, column by column, without the samples. */
export async function logHead(db: Db, logId: number): Promise<BundleHead> {
	const about = await aboutLog(db, logId);
	const columns = await storedRows(db, logId);
	return {
		...about,
		columns: columns.map((r) => ({ ...storedChannel(r), blocks: Math.ceil(r.samples / BLOCK) }))
	};
}

/** The blocks of every column of a log as stored, packed and deflated, one column after the other in the order of its head. */
export async function* storedColumns(db: Db, logId: number): AsyncGenerator<Uint8Array[]> {
	for (const r of await storedRows(db, logId)) yield storedBlocks(db, r.id, 0);
}

/** What a reading left beside its columns: doubts about units go back to their channels. */
async function besideColumns(
	db: Db,
	logId: number,
	channels: LogChannel[]
): Promise<Pick<Log, 'unmapped' | 'notes'>> {
	const row = await db
		.selectFrom('logs')
		.leftJoin('screenings', 'screenings.log_id', 'logs.id')
		.select(['logs.questions', 'screenings.unmapped', 'screenings.report'])
		.where('logs.id', '=', logId)
		.orderBy('screenings.id', 'desc')
		.executeTakeFirst();
	for (const q of JSON.parse(row?.questions ?? '[]') as LogQuestion[]) {
		const channel = channels.find((c) => c.id === q.channel);
		if (channel) channel.undecided = { readings: q.readings };
	}
	const report = row?.report ? (JSON.parse(row.report) as { log: { notes?: string[] } }) : null;
	return {
		unmapped: row?.unmapped ? (JSON.parse(row.unmapped) as Log['unmapped']) : [],
		notes: report?.log.notes ?? []
	};
}

/** The whole log, as it was when it was stored. */
export async function loadLog(db: Db, logId: number): Promise<Log> {
	const about = await aboutLog(db, logId);
	const rows = await storedRows(db, logId);
	const bases = new Map<number, Float64Array>();
	for (const r of rows) if (r.channel === 'time') bases.set(r.base, await clock(db, r.id));
	const channels: LogChannel[] = [];
	for (const r of rows) {
		if (r.channel === 'time') continue;
		channels.push({
			...storedChannel(r),
			timeS: bases.get(r.base)!,
			values: (await column(db, r, 0)).values
		});
	}
	return { ...about, channels, ...(await besideColumns(db, logId, channels)) };
}

/** Time axes last used: a reader zooms in one log, and its axis is asked for again and again. */
const recent = new WeakMap<Db, Map<number, Float64Array>>();
const RECENT = 4;

interface Axed extends ColumnRow {
	samples: number;
	timeS: Float64Array;
}

/** A channel of a log with its time axis; `null` when the log has no such channel. */
async function axed(db: Db, logId: number, channel: string): Promise<Axed | null> {
	const row = await ofRun(db, logId)
		.select(['log_channels.id', 'base', 'samples', 'scale', 'shift', 'log_channels.run'])
		.where('channel', '=', channel)
		.executeTakeFirst();
	if (!row) return null;
	const time = await db
		.selectFrom('log_channels')
		.select('id')
		.where('log_id', '=', logId)
		.where('run', '=', row.run)
		.where('channel', '=', 'time')
		.where('base', '=', row.base)
		.executeTakeFirst();
	// Read again between the two: its columns are others now.
	if (!time) return axed(db, logId, channel);
	let recentTimes = recent.get(db);
	if (!recentTimes) recent.set(db, (recentTimes = new Map()));
	// Ids are never given again, so they identify the axis.
	const key = time.id;
	let timeS = recentTimes.get(key);
	if (!timeS) {
		timeS = await clock(db, time.id);
		recentTimes.set(key, timeS);
		if (recentTimes.size > RECENT) recentTimes.delete(recentTimes.keys().next().value!);
	}
	return { ...row, timeS };
}

/**
 * A channel between two moments, thinned to about `points` buckets of minimum and maximum.
 * @returns `null` when the log has no such channel
 */
export async function traceWindow(
	db: Db,
	logId: number,
	channel: string,
	fromS: number,
	toS: number,
	points: number
): Promise<TraceWindow | null> {
	const row = await axed(db, logId, channel);
	if (!row) return null;
	return window(
		row.timeS,
		row.samples,
		fromS,
		toS,
		points,
		(level, from, to) => column(db, row, level, from, to),
		PYRAMID_FACTOR
	);
}

export interface SpanStatistics {
	samples: number;
	min: number;
	mean: number;
	max: number;
}

/**
 * Lowest, mean (over samples) and highest of a channel between two moments, from the samples themselves.
 * @returns `null` when the log has no such channel, or no sample of it there
 */
export async function spanStatistics(
	db: Db,
	logId: number,
	channel: string,
	fromS: number,
	toS: number
): Promise<SpanStatistics | null> {
	const row = await axed(db, logId, channel);
	if (!row) return null;
	const first = lowerBound(row.timeS, fromS);
	const last = lowerBound(row.timeS, toS);
	if (last <= first) return null;
	const { values, at } = await column(db, row, 0, first, last - 1);
	let samples = 0;
	let sum = 0;
	let min = Infinity;
	let max = -Infinity;
	for (let i = first; i < last; i++) {
		const v = values[i - at]!;
		if (v !== v) continue;
		samples++;
		sum += v;
		if (v < min) min = v;
		if (v > max) max = v;
	}
	return samples ? { samples, min, mean: sum / samples, max } : null;
}

/** How each column of a log was read, for a person to look at. */
export async function readingsOf(db: Db, logId: number) {
	return ofRun(db, logId)
		.select(['channel', 'raw', 'raw_unit', 'unit', 'note', 'source', 'rate_hz', 'read_as', 'scale', 'shift'])
		.where('channel', '!=', 'time')
		.orderBy('log_channels.id')
		.execute();
}
