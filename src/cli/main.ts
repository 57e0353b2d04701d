/** `screen`, `revise`, `compare`, `replay`, `convert`: JSON on standard output, messages on standard error; exit 0 done, 1 refused, 2 wrong usage. */
import { prepare } from '../core/evidence/prepare.ts';
import { compare } from '../core/calibration/compare.ts';
import { findItem, type Calibration } from '../core/calibration/document.ts';
import { toCdf } from '../core/calibration/formats/cdf.ts';
import { allTablesCsv, isTable, tableCsv } from '../core/calibration/formats/csv.ts';
import { InputError } from '../core/input-error.ts';
import { LayoutError, type LayoutHint } from '../core/logfile/layout-error.ts';
import { OUT_FORMATS, type OutFormat } from '../core/logfile/write.ts';
import { replay } from '../core/revising/replay.ts';
import { propose, withChanges } from '../core/revising/revise.ts';
import { screen, screenPrepared } from '../core/screening/screen.ts';
import { assumedBaroKpa } from '../core/vehicle/document.ts';
import { required, single, UsageError, words, type Words } from './args.ts';
import {
	isCalibrationFile,
	readCalibration,
	readLogFile,
	readRequest,
	readVehicle,
	writeOut
} from './files.ts';

const USAGE = `tanto screen LOG --vehicle V.json [--calibration C.json]… [--stated N] [--request R.json]
tanto revise C.json LOG… --vehicle V.json [--out NEXT.json]
tanto compare A.json B.json [--vehicle V.json]
tanto replay C.json NEXT.json LOG --vehicle V.json
tanto convert LOG --to csv|jsonl|parquet [--vehicle V.json]
tanto convert C.json --to cdf|csv [--item ID]
tanto convert C.xml --to json

A log whose layout isn't recognised: --time COLUMN, --header LINE, --separator comma|semicolon|tab
`;

/** What a command prints: a JSON document, or pieces of another format. */
type Answer = { json: unknown } | { pieces: Iterable<string | Uint8Array> };
type Command = (args: string[]) => Promise<Answer>;

const COMMANDS: Record<string, Command> = {
	async screen(args) {
		const w = words(args, ['vehicle', 'calibration', 'stated', 'request', ...LAYOUT]);
		const [file, ...more] = w.positionals;
		if (!file || more.length) throw new UsageError('screen takes one log');
		const vehicle = await readVehicle(required(w, 'vehicle'));
		const calibrations = [];
		for (const c of w.options.get('calibration') ?? []) calibrations.push(await readCalibration(c));
		const stated = single(w, 'stated');
		const index = stated === undefined ? calibrations.length - 1 : Number(stated);
		if (stated !== undefined && !(Number.isInteger(index) && index >= 0 && index < calibrations.length))
			throw new UsageError(
				`--stated ${stated}: a number from 0 to ${calibrations.length - 1} (the calibrations given, oldest first)`
			);
		const requestFile = single(w, 'request');
		const request = requestFile ? await readRequest(requestFile) : null;
		const log = await readLogFile(file, vehicle, hintFrom(w));
		return { json: screen(log, { vehicle, calibrations, stated: index, request }) };
	},

	async revise(args) {
		const w = words(args, ['vehicle', 'out', ...LAYOUT]);
		const [file, ...logs] = w.positionals;
		if (!file || logs.length === 0) throw new UsageError('revise takes a calibration and at least one log');
		const vehicle = await readVehicle(required(w, 'vehicle'));
		const calibration = await readCalibration(file);
		const evidence = [];
		for (const l of logs) {
			const input = prepare(await readLogFile(l, vehicle, hintFrom(w)), {
				vehicle,
				calibrations: [calibration]
			});
			evidence.push({ input, findings: screenPrepared(input).findings });
		}
		const proposal = propose(evidence);
		const out = single(w, 'out');
		if (out) writeOut(out, `${JSON.stringify(withChanges(calibration, proposal.changes), null, '\t')}\n`);
		return { json: proposal };
	},

	async compare(args) {
		const w = words(args, ['vehicle']);
		const [a, b, ...more] = w.positionals;
		if (!a || !b || more.length) throw new UsageError('compare takes two calibrations');
		const vehicleFile = single(w, 'vehicle');
		const baroKpa = vehicleFile ? assumedBaroKpa(await readVehicle(vehicleFile)) : undefined;
		return { json: compare(await readCalibration(a), await readCalibration(b), baroKpa) };
	},

	async replay(args) {
		const w = words(args, ['vehicle', ...LAYOUT]);
		const [file, nextFile, log, ...more] = w.positionals;
		if (!file || !nextFile || !log || more.length)
			throw new UsageError('replay takes a calibration, the next one, and a log made with the first');
		const vehicle = await readVehicle(required(w, 'vehicle'));
		const calibration = await readCalibration(file);
		const next = await readCalibration(nextFile);
		const input = prepare(await readLogFile(log, vehicle, hintFrom(w)), {
			vehicle,
			calibrations: [calibration]
		});
		return { json: replay(input, next) };
	},

	async convert(args) {
		const w = words(args, ['to', 'vehicle', 'item', ...LAYOUT]);
		const [file, ...more] = w.positionals;
		if (!file || more.length) throw new UsageError('convert takes one file');
		const to = required(w, 'to');
		if (await isCalibrationFile(file))
			return convertCalibration(await readCalibration(file), to, single(w, 'item'));
		if (!Object.hasOwn(OUT_FORMATS, to))
			throw new UsageError(`--to ${to}: one of ${Object.keys(OUT_FORMATS).join(', ')}`);
		const vehicleFile = single(w, 'vehicle');
		const log = await readLogFile(file, vehicleFile ? await readVehicle(vehicleFile) : null, hintFrom(w));
		return { pieces: OUT_FORMATS[to as OutFormat].pieces(log) };
	}
};

/** Words that say how a log is laid out. */
const LAYOUT = ['time', 'header', 'separator'];
const SEPARATORS = { comma: ',', semicolon: ';', tab: '\t' } as const;

/** What the command line says of the layout of its logs; nothing where it says nothing. */
function hintFrom(w: Words): LayoutHint | undefined {
	const [time, header, word] = LAYOUT.map((name) => single(w, name));
	if (time === undefined && header === undefined && word === undefined) return undefined;
	const headerLine = header === undefined ? undefined : Number(header);
	if (headerLine !== undefined && !(Number.isInteger(headerLine) && headerLine >= 1 && headerLine <= 60))
		throw new UsageError(`--header ${header}: a line from 1 to 60`);
	if (word !== undefined && !Object.hasOwn(SEPARATORS, word))
		throw new UsageError(`--separator ${word}: one of ${Object.keys(SEPARATORS).join(', ')}`);
	const separator = word === undefined ? undefined : SEPARATORS[word as keyof typeof SEPARATORS];
	return { time, headerLine, separator };
}

/** A calibration in another form; CSV of one table, or of all one after the other. */
function convertCalibration(calibration: Calibration, to: string, item: string | undefined): Answer {
	if (to === 'json') return { json: calibration };
	if (to === 'cdf') return { pieces: [toCdf(calibration)] };
	if (to !== 'csv') throw new UsageError(`--to ${to}: one of json, cdf, csv for a calibration`);
	if (item === undefined) return { pieces: [allTablesCsv(calibration)] };
	const table = findItem(calibration, item);
	if (!isTable(table))
		throw new UsageError(`--item ${item}: the calibration has no table or curve of that id`);
	return { pieces: [tableCsv(table)] };
}

/** Writes and waits where the reader is slower. */
async function print(piece: string | Uint8Array): Promise<void> {
	if (!process.stdout.write(piece)) await new Promise((r) => process.stdout.once('drain', r));
}

/** @returns the exit code */
export async function main(args: string[]): Promise<number> {
	const [name = '', ...rest] = args;
	try {
		const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
		if (!command) throw new UsageError(name ? `there is no command "${name}"` : 'a command is missing');
		const answer = await command(rest);
		if ('json' in answer) await print(`${JSON.stringify(answer.json, null, '\t')}\n`);
		else for (const piece of answer.pieces) await print(piece);
		return 0;
	} catch (e) {
		if (e instanceof UsageError) {
			process.stderr.write(`${e.message}\n\n${USAGE}`);
			return 2;
		}
		if (e instanceof InputError) {
			const how =
				e instanceof LayoutError ? ': --time COLUMN, --header LINE, --separator comma|semicolon|tab' : '';
			process.stderr.write(`${e.message}${how}\n`);
			return 1;
		}
		throw e;
	}
}
