/** Columns of a log on their way into the database: packed blocks of 64 k samples per channel, with a minimum/maximum pyramid over them. */
import { deflateRawSync } from 'node:zlib';
import type { Log, LogChannel } from '$core/logfile/log.ts';
import { pack32, packClock } from '$core/logfile/pack.ts';
import { buildPyramid } from '$core/logfile/pyramid.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';

/** Samples of a block. */
export const BLOCK = 1 << 16;

interface Packed {
	level: number;
	blocks: Uint8Array[];
}

/**
 * Stores the columns of a log as a run of its own, each column in a short transaction, so that nobody waits for long behind a long log.
 * They are the log's from `adoptRun` on; until then nobody sees them.
 * @returns the run
 */
export async function storeColumns(db: Db, logId: number, log: Log): Promise<number> {
	const bases: Float64Array[] = [];
	for (const channel of log.channels) if (!bases.includes(channel.timeS)) bases.push(channel.timeS);
	const run = await nextId(db, 'log_channels');
	const put = async (
		channel: Omit<LogChannel, 'timeS' | 'values'>,
		base: number,
		samples: number,
		packed: readonly Packed[]
	) => {
		const id = await nextId(db, 'log_channels');
		await db
			.insertInto('log_channels')
			.values({
				id,
				log_id: logId,
				run,
				scale: channel.conversion.scale,
				shift: channel.conversion.offset,
				read_as: channel.readAs,
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
			.execute();
		const rows = packed.flatMap(({ level, blocks }) =>
			blocks.map((bytes, block) => ({ level, block, bytes }))
		);
		for (let at = 0; at < rows.length; at += TOGETHER)
			await db
				.insertInto('log_blocks')
				.values(rows.slice(at, at + TOGETHER).map((r) => ({ channel_row: id, ...r })))
				.execute();
	};
	try {
		for (const [base, timeS] of bases.entries())
			await put(TIME_CHANNEL, base, timeS.length, [
				{ level: 0, blocks: inBlocks(timeS.length, (from, to) => packClock(timeS.subarray(from, to))) }
			]);
		for (const channel of log.channels) {
			const pack = (values: Float32Array) =>
				inBlocks(values.length, (from, to) => pack32(values.subarray(from, to), channel.conversion));
			await put(channel, bases.indexOf(channel.timeS), channel.values.length, [
				{ level: 0, blocks: pack(channel.values) },
				...buildPyramid(channel.values).map((level, i) => ({ level: i + 1, blocks: pack(level) }))
			]);
		}
	} catch (e) {
		await dropRuns(db, logId);
		throw e;
	}
	return run;
}

/** Blocks that are written in one statement: a few hundred kilobytes, done in milliseconds. */
const TOGETHER = 8;

const TIME_CHANNEL: Omit<LogChannel, 'timeS' | 'values'> = {
	id: 'time',
	raw: '',
	rawUnit: '',
	unit: 's',
	note: '',
	source: 'recognised',
	contradiction: null,
	undecided: null,
	readAs: 's',
	conversion: { scale: 1, offset: 0 },
	rateHz: 0,
	texts: []
};

/** Takes away the columns of all readings of a log but the one that counts, or of all logs: what a stop left half stored, too. */
export async function dropRuns(db: Db, logId?: number): Promise<void> {
	let query = db
		.selectFrom('log_channels')
		.innerJoin('logs', 'logs.id', 'log_channels.log_id')
		.select('log_channels.id')
		.whereRef('log_channels.run', '!=', 'logs.run');
	if (logId !== undefined) query = query.where('logs.id', '=', logId);
	for (const { id } of await query.execute())
		await db.deleteFrom('log_channels').where('id', '=', id).execute();
}

function inBlocks(length: number, pack: (from: number, to: number) => Uint8Array): Uint8Array[] {
	return Array.from({ length: Math.ceil(length / BLOCK) }, (_, b) =>
		deflateRawSync(pack(b * BLOCK, Math.min(length, (b + 1) * BLOCK)), { level: 1 })
	);
}
