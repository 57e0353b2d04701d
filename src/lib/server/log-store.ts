/**
 * Columns of a log in the database: blocks of 64 k samples per channel, and a minimum/maximum pyramid that answers any zoom.
 * Read by column, never by row.
 */
import { channelKind } from '../../core/channels/canonical.ts';
import {
	buildPyramid,
	PYRAMID_FACTOR,
	window,
	type Level,
	type TraceWindow
} from '../../core/logfile/pyramid.ts';
import type { Contradiction } from '../../core/channels/recognise.ts';
import type { Log, LogChannel, TimeFaults } from '../../core/logfile/log.ts';
import type { Db } from './db/open.ts';

const BLOCK = 1 << 16;

function bytesOf(values: Float32Array | Float64Array): Uint8Array {
	return new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
}

/** A copy with its own, aligned buffer: what SQLite returns may start anywhere. */
function floats(bytes: Uint8Array): Float32Array {
	return new Float32Array(new Uint8Array(bytes).buffer);
}

function doubles(bytes: Uint8Array): Float64Array {
	return new Float64Array(new Uint8Array(bytes).buffer);
}

/** Replaces the stored columns of a log. Call inside a transaction. */
export async function storeColumns(trx: Db, logId: number, log: Log): Promise<void> {
	await trx.deleteFrom('log_channels').where('log_id', '=', logId).execute();
	await trx.deleteFrom('screenings').where('log_id', '=', logId).execute();
	const bases: Float64Array[] = [];
	for (const channel of log.channels) if (!bases.includes(channel.timeS)) bases.push(channel.timeS);
	const insert = async (channel: Omit<LogChannel, 'timeS' | 'values'>, base: number, samples: number) =>
		Number(
			(
				await trx
					.insertInto('log_channels')
					.values({
						log_id: logId,
						channel: channel.id,
						base,
						raw: channel.raw,
						raw_unit: channel.rawUnit,
						unit: channel.unit,
						note: channel.note,
						source: channel.source,
						rate_hz: channel.rateHz,
						samples,
						texts: JSON.stringify(channel.texts),
						contradiction: channel.contradiction && JSON.stringify(channel.contradiction)
					})
					.executeTakeFirstOrThrow()
			).insertId
		);
	const put = async (row: number, level: number, values: Float32Array | Float64Array) => {
		for (let b = 0; b * BLOCK < values.length; b++)
			await trx
				.insertInto('log_blocks')
				.values({
					channel_row: row,
					level,
					block: b,
					bytes: Buffer.from(bytesOf(values.subarray(b * BLOCK, (b + 1) * BLOCK)))
				})
				.execute();
	};
	for (const [base, timeS] of bases.entries()) {
		const row = await insert(
			{
				id: 'time',
				raw: '',
				rawUnit: '',
				unit: 's',
				note: '',
				source: 'recognised',
				contradiction: null,
				rateHz: 0,
				texts: []
			},
			base,
			timeS.length
		);
		await put(row, 0, timeS);
	}
	for (const channel of log.channels) {
		const row = await insert(channel, bases.indexOf(channel.timeS), channel.values.length);
		await put(row, 0, channel.values);
		for (const [i, level] of buildPyramid(channel.values).entries()) await put(row, i + 1, level);
	}
}

async function blocks(db: Db, row: number, level: number): Promise<Uint8Array> {
	const parts = await db
		.selectFrom('log_blocks')
		.select('bytes')
		.where('channel_row', '=', row)
		.where('level', '=', level)
		.orderBy('block')
		.execute();
	return parts.length === 1 ? parts[0]!.bytes : Buffer.concat(parts.map((p) => p.bytes));
}

/** The whole log, as it was when it was stored. */
export async function loadLog(db: Db, logId: number): Promise<Log> {
	const meta = await db
		.selectFrom('logs')
		.select(['rows', 'duration_s', 'time_faults'])
		.where('id', '=', logId)
		.executeTakeFirstOrThrow();
	const rows = await db
		.selectFrom('log_channels')
		.selectAll()
		.where('log_id', '=', logId)
		.orderBy('id')
		.execute();
	const bases = new Map<number, Float64Array>();
	for (const r of rows) if (r.channel === 'time') bases.set(r.base, doubles(await blocks(db, r.id, 0)));
	const channels: LogChannel[] = [];
	for (const r of rows) {
		if (r.channel === 'time') continue;
		channelKind(r.channel);
		channels.push({
			id: r.channel,
			raw: r.raw,
			rawUnit: r.raw_unit,
			unit: r.unit,
			note: r.note,
			source: r.source === 'assigned' ? 'assigned' : 'recognised',
			contradiction: r.contradiction ? (JSON.parse(r.contradiction) as Contradiction) : null,
			timeS: bases.get(r.base)!,
			values: floats(await blocks(db, r.id, 0)),
			rateHz: r.rate_hz,
			texts: JSON.parse(r.texts) as string[]
		});
	}
	return {
		channels,
		unmapped: [],
		rows: meta.rows,
		durationS: meta.duration_s,
		notes: [],
		timeFaults: meta.time_faults
			? (JSON.parse(meta.time_faults) as TimeFaults)
			: { restartsS: [], repeated: 0, backward: 0 }
	};
}

/** Time axes last used: a reader zooms in one log, and its axis is asked for again and again. */
const recentTimes = new Map<string, Float64Array>();
const RECENT = 4;

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
	const row = await db
		.selectFrom('log_channels')
		.select(['id', 'base', 'samples'])
		.where('log_id', '=', logId)
		.where('channel', '=', channel)
		.executeTakeFirst();
	if (!row) return null;
	const time = await db
		.selectFrom('log_channels')
		.select('id')
		.where('log_id', '=', logId)
		.where('channel', '=', 'time')
		.where('base', '=', row.base)
		.executeTakeFirstOrThrow();
	// Row ids are never used again for other samples, so they identify the axis.
	const key = `${time.id}`;
	let timeS = recentTimes.get(key);
	if (!timeS) {
		timeS = doubles(await blocks(db, time.id, 0));
		recentTimes.set(key, timeS);
		if (recentTimes.size > RECENT) recentTimes.delete(recentTimes.keys().next().value!);
	}
	const samples = row.samples;
	const levelOf = async (level: number): Promise<Level> => floats(await blocks(db, row.id, level));
	return window(timeS, samples, fromS, toS, points, levelOf, PYRAMID_FACTOR);
}
