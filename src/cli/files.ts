/** Reading the command line's files; faults name the file. */
import {
	closeSync,
	createReadStream,
	openSync,
	readFileSync,
	readSync,
	statSync,
	writeFileSync
} from 'node:fs';
import type { Calibration } from '../core/calibration/document.ts';
import { calibrationFrom } from '../core/calibration/formats/read.ts';
import { parseLayout, type Layout } from '../core/calibration/tables/layout.ts';
import { MOST_BYTES } from '../core/calibration/tables/text-grid.ts';
import { fixed } from '../core/format.ts';
import { InputError } from '../core/input-error.ts';
import { LayoutError } from '../core/logfile/layout-error.ts';
import type { LayoutHint } from '../core/logfile/layout-hint.ts';
import type { Log } from '../core/logfile/log.ts';
import { readLogAsync } from '../core/logfile/read.ts';
import { parseJson } from '../core/parse.ts';
import { parseRequest, type LogRequest } from '../core/request.ts';
import { STOICH_PETROL } from '../core/units/fuel.ts';
import { refuseContrarySeats } from '../core/vehicle/seats.ts';
import { vehicleFrom, type Vehicle } from '../core/vehicle/document.ts';
import { readContextOf, STANDARD_PRESSURE_KPA } from '../core/vehicle/facts.ts';

/** Bytes read at a time: large enough to be fast, small enough to keep memory at the size of the columns. */
const CHUNK = 1 << 20;

async function named<T>(file: string, work: () => T | Promise<T>): Promise<T> {
	try {
		return await work();
	} catch (e) {
		if (e instanceof LayoutError) throw new LayoutError(`${file}: ${e.what}`, e.seen);
		if (e instanceof InputError) throw new InputError(e.message, file);
		const code = (e as NodeJS.ErrnoException).code;
		if (code === 'ENOENT') throw new InputError('there is no such file', file);
		if (code === 'EACCES') throw new InputError('this file may not be read', file);
		if (code === 'EISDIR') throw new InputError('this is a folder, not a file', file);
		throw e;
	}
}

/** A JSON document, as `parse` takes it. */
export const readDocument = <T>(file: string, parse: (input: unknown) => T): Promise<T> =>
	named(file, () => parse(parseJson(readFileSync(file, 'utf8'))));

export const readVehicle = (file: string): Promise<Vehicle> =>
	readDocument(file, (input) => {
		const vehicle = vehicleFrom(input);
		refuseContrarySeats(vehicle);
		return vehicle;
	});
export const readLayout = (file: string): Promise<Layout> => readDocument(file, parseLayout);
export const readRequest = (file: string): Promise<LogRequest> => readDocument(file, parseRequest);

export const readCalibration = (file: string): Promise<Calibration> =>
	named(file, () => calibrationFrom(readFileSync(file, 'utf8')));

/** A small text, a table that was pasted into a file. @throws InputError where it is larger than a table can be */
export const readSmallText = (file: string): Promise<string> =>
	named(file, () => {
		const { size } = statSync(file);
		if (size > MOST_BYTES)
			throw new InputError(`this is ${fixed(size / 1024 / 1024, 0)} MB; a table has 2 MB at most`);
		const bytes = readFileSync(file);
		const utf16 = bytes[0] === 0xff && bytes[1] === 0xfe;
		return utf16 ? bytes.subarray(2).toString('utf16le') : bytes.toString('utf8');
	});

/**
 * @param vehicle whose gauge, altitude and engine the log was made with; petrol scale and standard pressure without
 * @param hint what was said of the file's layout
 */
export const readLogFile = (file: string, vehicle: Vehicle | null, hint: LayoutHint = {}): Promise<Log> =>
	named(file, () => {
		// Asked first: a stream of a file that isn't there would report that after the answer, to nobody.
		const bytes = statSync(file).size;
		return readLogAsync(createReadStream(file, { highWaterMark: CHUNK }), {
			...(vehicle ? readContextOf(vehicle) : { gaugeStoich: STOICH_PETROL, baroKpa: STANDARD_PRESSURE_KPA }),
			bytes,
			hint
		});
	});

/** Writes a document, replacing what was there. */
export function writeOut(file: string, text: string): void {
	try {
		writeFileSync(file, text);
	} catch (e) {
		const code = (e as NodeJS.ErrnoException).code ?? '';
		const why: Record<string, string> = {
			ENOENT: 'the folder to write into is not there',
			EACCES: 'this may not be written',
			EROFS: 'this may not be written',
			EISDIR: 'this is a folder, not a file',
			ENOSPC: 'the disk is full'
		};
		if (!why[code]) throw e;
		throw new InputError(why[code], file);
	}
}

/** Enough of a file to tell a calibration from a log. */
const LOOK_BYTES = 4096;

/** Whether a file is a calibration (our JSON, or XML) and not a log. */
export const isCalibrationFile = (file: string): Promise<boolean> =>
	named(file, () => {
		const bytes = Buffer.alloc(LOOK_BYTES);
		const fd = openSync(file, 'r');
		try {
			const start = bytes.toString('utf8', 0, readSync(fd, bytes, 0, LOOK_BYTES, 0));
			return /^\ufeff?\s*</.test(start) || /"schema"\s*:\s*"tanto\.calibration\//.test(start);
		} finally {
			closeSync(fd);
		}
	});
