/** Logs, their columns and screenings, and what was said of them. */
import type { Generated, GeneratedAlways } from 'kysely';
import type { Severity } from '$core/screening/types.ts';
import type { Fixed, Id } from './columns.ts';

export interface LogTable {
	id: Id;
	job_id: number;
	/** Revision that the log is said to be made with. */
	revision_id: number;
	name: string;
	sha256: string;
	bytes: number;
	sent_by: 'tuner' | 'customer';
	/** received → reading → screened, or failed with a message. */
	state: 'received' | 'reading' | 'screened' | 'failed';
	/** Share read, 0–100, while reading. */
	progress: Generated<number>;
	message: string | null;
	rows: Generated<number>;
	duration_s: Generated<number>;
	/** What is wrong with its clock; null until it is read. */
	time_faults: string | null;
	/** The drive plan that it answers. */
	request_id: number | null;
	/** A drive as asked for, or a problem recorded while it happens. */
	kind: Generated<'drive' | 'problem'>;
	/** The customer's words, the marked moment, and the answers to the usual questions (JSON). */
	words: Generated<string>;
	moment_s: number | null;
	answers: Generated<string>;
	/** `tanto.conditions/1`: the day, and where its sensors sat; null where nothing was said. */
	conditions: string | null;
	/** When the tuner said that it won't do. */
	declined_at: string | null;
	/** Why a person took it out of the job: it stays in the record and speaks for nothing. */
	taken_out: string | null;
	taken_out_by: string | null;
	/** Why it doesn't speak for a revision, by a person's word; null where it may. */
	left_out: string | null;
	left_out_by: string | null;
	/** Readings that only a person can decide (JSON). */
	questions: Generated<string>;
	/** What a person said of its layout, and what was seen of a layout that isn't recognised (JSON). */
	layout: string | null;
	seen: string | null;
	/** The reading whose columns are the log's. */
	run: Generated<number>;
	/** 1 once the received file is kept compressed. */
	packed: Generated<number>;
	received_at: Fixed<string>;
}

/** Fields of a log over the axes of its table (JSON), kept until it is screened anew. */
export interface LogFieldTable {
	log_id: number;
	screening_id: number;
	result: string;
}

export interface LogChannelTable {
	id: Id;
	log_id: number;
	/** The reading that it belongs to. */
	run: Generated<number>;
	/** Canonical id; `time` for a time axis. */
	channel: string;
	/** Number of the time axis that the samples stand on. */
	base: number;
	raw: string;
	raw_unit: string;
	unit: string;
	note: string;
	source: string;
	rate_hz: number;
	samples: number;
	texts: string;
	/** The written unit and the one that the values fit, where they differ. */
	contradiction: string | null;
	/** Canonical value = raw × scale + shift; `read_as` is the unit of the raw values. */
	scale: Generated<number>;
	shift: Generated<number>;
	read_as: Generated<string>;
}

export interface LogBlockTable {
	channel_row: number;
	/** 0: the samples; 1 and up: levels of the minimum/maximum pyramid. */
	level: number;
	block: number;
	bytes: Uint8Array;
}

export interface ScreeningTable {
	id: Id;
	log_id: number;
	/** Which checks screened it; a number in what was screened before they had a fingerprint. */
	version: string | number;
	profile: string;
	/** `tanto.screen/1` */
	report: string;
	/** Required correction per cell and bank, and their difference. */
	cells: string;
	/** Pulls with their curves over engine speed. */
	pulls: string;
	/** Columns that nobody recognised. */
	unmapped: string;
	/** What lists need of it, see `briefOf` (JSON). */
	brief: string;
	/** Read from the brief by the database. */
	verdict: GeneratedAlways<string>;
	created_at: Fixed<string>;
}

/** Layouts that were said of a customer's files. */
export interface LayoutTable {
	customer_id: number;
	/** A layout hint (JSON). */
	document: string;
	created_at: string;
}

export interface AssignmentTable {
	customer_id: number;
	/** Raw name and unit, see `assignmentKey`. */
	key: string;
	channel: string | null;
	unit: string | null;
}

/** Readings that exist only on a film or a sheet, typed in beside a log. */
export interface TypedReadingTable {
	id: Id;
	job_id: number;
	log_id: number;
	/** `TypedReading` as JSON. */
	document: string;
	author: string;
	created_at: Fixed<string>;
}

/** The file of an instrument with a clock of its own, joined to a log. */
export interface SecondRecorderTable {
	id: Id;
	log_id: number;
	name: string;
	bytes: number;
	sha256: string;
	/** `Alignment` as JSON: how the two clocks go together, and the picture of it. */
	answer: string;
	author: string;
	created_at: Fixed<string>;
}

/** Findings of the newest screening of each log, for search: filled by the database when a screening is stored. */
export interface FindingTable {
	log_id: number;
	key: string;
	code: string;
	severity: Severity;
	/** With its quantities marked. */
	title: string;
	value: number | null;
	unit: string | null;
	bank: number | null;
	cylinder: number | null;
	rpm_low: number | null;
	rpm_high: number | null;
}

export interface FindingAnswerTable {
	id: Id;
	job_id: number;
	log_id: number;
	/** Which finding: code, bank, cylinder. */
	key: string;
	kind: 'accepted' | 'false-alarm' | 'resolved';
	/** How grave it was when it was answered; `null` where that was not kept. */
	severity: Severity | null;
	reason: string;
	author: string;
	created_at: Fixed<string>;
}

/** A proof of real or false knock for one region of a job. */
export interface KnockProofTable {
	id: Id;
	job_id: number;
	/** Engine speed and pressure, see `regionSchema`. */
	region: string;
	author: string;
	created_at: Fixed<string>;
}

/** A log that stands for a step of a proof, with what was measured in the region. */
export interface KnockProofStepTable {
	proof_id: number;
	step: 'baseline' | 'mixture' | 'timing' | 'octane' | 'again';
	log_id: number;
	measure: string;
	author: string;
	created_at: string;
}
