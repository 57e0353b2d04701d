/** The tables, as Kysely sees them. Moments are ISO 8601 texts in UTC; documents are JSON texts. */
import type { ColumnType, Generated, GeneratedAlways } from 'kysely';

type Id = Generated<number>;
/** Set when the row is made, never changed. */
type Fixed<T> = ColumnType<T, T, never>;

export interface CustomerTable {
	id: Id;
	name: string;
	email: string | null;
	notes: Generated<string>;
	created_at: Fixed<string>;
}

export interface VehicleTable {
	id: Id;
	customer_id: number;
	/** `tanto.vehicle/1` */
	document: string;
	created_at: Fixed<string>;
}

export interface JobTable {
	id: Id;
	customer_id: number;
	vehicle_id: number;
	title: string;
	waiting_on: 'tuner' | 'customer';
	waiting_since: string;
	/** What the customer wants, what was done before, what was agreed: the tuner's own words. */
	goals: Generated<string>;
	done_before: Generated<string>;
	agreed: Generated<string>;
	/** What it is to reach, in numbers: `tanto.goal/1` (JSON); null while nobody said. */
	goal: Generated<string | null>;
	/** When the tuner called the tune done, and what was said to it. */
	done_at: string | null;
	done_words: Generated<string>;
	/** Put away: it stands in no list until it is looked for, or the customer writes. */
	archived_at: string | null;
	created_at: Fixed<string>;
	/** How the tables of its controller look in the tuner's program. */
	layout_id: number | null;
}

/** A drive plan as it was sent. */
export interface RequestTable {
	id: Id;
	job_id: number;
	template: string;
	/** `tanto.request/1` */
	document: string;
	created_at: Fixed<string>;
}

export interface RevisionTable {
	id: Id;
	job_id: number;
	/** R number within the job. */
	number: number;
	parent_id: number | null;
	state: 'baseline' | 'draft' | 'released';
	/** `tanto.calibration/1` */
	document: string;
	/** SHA-256 over the canonical JSON of the document. */
	content_hash: string;
	/** Cell changes against the parent, each with its reason. */
	changes: string;
	/** Counts the saves of a draft. */
	version: Generated<number>;
	/** Settings and axes that differ from the parent, each with its reason (JSON). */
	edits: Generated<string>;
	/** What was proposed from logs, and what was held. */
	proposal: string | null;
	/** Ids of the logs that the proposal was made from. */
	proposal_logs: string;
	/** Proposed cells that were rejected, by item and place (JSON). */
	rejected: Generated<string>;
	/** Change notes for the customer. */
	notes: string;
	/** What the tuner wrote to release over an open hold. */
	override_reason: string | null;
	created_at: Fixed<string>;
	released_at: string | null;
}

export interface AttachmentTable {
	id: Id;
	revision_id: number;
	name: string;
	bytes: number;
	sha256: string;
	hardware: string;
	software: string;
	/** Who attached it; empty where that was not kept. */
	author: Generated<string>;
	created_at: Fixed<string>;
}

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

/** How a controller's tables look in the tuners' own program: `tanto.layout/1`. */
export interface TableLayoutTable {
	id: Id;
	name: string;
	hardware: string;
	software: string;
	fuel_model: string;
	document: string;
	updated_at: string;
}

/** A table pasted back from the file that goes out, held against the revision. */
export interface TableProofTable {
	id: Id;
	revision_id: number;
	item: string;
	/** Of the revision, when it was held against it: another content proves nothing. */
	content_hash: string;
	/** The closed files that were attached then: another file is proved by none of this. */
	files: string;
	/** SHA-256 of the pasted text. */
	text_hash: string;
	match: number;
	verified: number;
	/** What was found (JSON), for a person to see again. */
	result: string;
	author: string;
	created_at: Fixed<string>;
}

/** Something of the engine was changed: logs from before tell of another one. */
export interface HardwareChangeTable {
	id: Id;
	job_id: number;
	what: string;
	/** When it was done, by the person's word. */
	at: string;
	author: string;
	created_at: Fixed<string>;
	/** 1: other injectors are in; what was called done on the old ones is void. */
	injectors: Generated<number>;
}

/** A stage of the way to the fuel that somebody called done. */
export interface StageCallTable {
	id: Id;
	job_id: number;
	kind: string;
	words: string;
	author: string;
	created_at: Fixed<string>;
}

/** What went into the tank. */
export interface FillTable {
	id: Id;
	job_id: number;
	at: string;
	ethanol_pct: number | null;
	octane_ron: number | null;
	/** Where the content is known from: sensor, inferred, stated. */
	source: string;
	words: string;
	author: string;
	created_at: Fixed<string>;
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

/** Something that was swapped, moved or mended between two logs, to see what a difference moves with. */
export interface SwapTestTable {
	id: Id;
	job_id: number;
	/** Key of the finding that it began with; empty where it began with none. */
	finding: string;
	/** `tanto.swap/1`. */
	document: string;
	/** The drive plan that was sent with it: the log that answers it is the one after. */
	request_id: number | null;
	before_log: number;
	after_log: number | null;
	back_log: number | null;
	/** What it says (JSON), once there is a log after it. */
	answer: string | null;
	author: string;
	created_at: Fixed<string>;
}

/** Plugs as they were read. */
export interface PlugReadingTable {
	id: Id;
	job_id: number;
	/** What was in the car. */
	revision_id: number;
	/** A log of the same session, where there is one. */
	log_id: number | null;
	/** `tanto.plugs/1`. */
	document: string;
	author: string;
	created_at: Fixed<string>;
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
	version: number;
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

export interface LinkTable {
	id: Id;
	job_id: number;
	/** SHA-256 of the token, which opens. */
	token_hash: string;
	/** The token under the key of this folder, so that a tuner can read the link again. */
	sealed: string | null;
	created_at: Fixed<string>;
	expires_at: string;
	revoked_at: string | null;
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

export interface MailTable {
	id: Id;
	job_id: number | null;
	to_address: string;
	subject: string;
	body: string;
	state: 'waiting' | 'sent' | 'failed';
	error: string | null;
	/** How often it was tried, and when it is tried again. */
	attempts: Generated<number>;
	next_at: Generated<string>;
	created_at: Fixed<string>;
	sent_at: string | null;
}

export interface MessageTable {
	id: Id;
	job_id: number;
	kind: 'note' | 'to-customer' | 'from-customer';
	author: string;
	body: string;
	log_id: number | null;
	mail_id: number | null;
	/** What a reply asks for that is no calibration. */
	advice: 'repair' | 'part' | 'fuel' | 'log' | 'other' | null;
	created_at: Fixed<string>;
}

/** What the mail catcher of the demo took in. */
export interface CaughtMailTable {
	id: Id;
	from_address: string;
	to_address: string;
	subject: string;
	body: string;
	received_at: Fixed<string>;
}

export interface TimeslipTable {
	id: Id;
	job_id: number;
	log_id: number | null;
	title: string;
	/** Times in s, speeds in km/h (JSON). */
	values_json: string;
	created_at: Fixed<string>;
}

export interface LookoverTable {
	job_id: number;
	item: string;
	state: 'fine' | 'not-fine' | 'unsure';
	remark: string;
	at: string;
}

export interface PhotoTable {
	id: Id;
	job_id: number;
	item: string;
	sha256: string;
	bytes: number;
	width: number;
	height: number;
	created_at: Fixed<string>;
}

export interface InvitationTable {
	id: Id;
	email: string;
	token_hash: string;
	/** What the account will be. */
	role: Generated<'tuner' | 'apprentice'>;
	invited_by: string;
	created_at: Fixed<string>;
	expires_at: string;
	used_at: string | null;
}

export interface TunerSettingTable {
	user_id: string;
	key: string;
	value: string;
}

export interface FindingAnswerTable {
	id: Id;
	job_id: number;
	log_id: number;
	/** Which finding: code, bank, cylinder. */
	key: string;
	kind: 'accepted' | 'false-alarm' | 'resolved';
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

/** What a tuner wrote to a hold before a revision went out. */
export interface HoldAnswerTable {
	revision_id: number;
	hold: string;
	title: string;
	reason: string;
	author: string;
	created_at: string;
}

/** What happened in which order, counted by the database: clocks go back. */
export interface TimelineTable {
	n: GeneratedAlways<number>;
	kind:
		| 'revision'
		| 'log'
		| 'message'
		| 'plan'
		| 'screening'
		| 'waiting'
		| 'hardware'
		| 'swap'
		| 'plugs'
		| 'stage'
		| 'fill';
	/** Id of the revision, log, …; of the job for `waiting`. */
	ref: number;
}

export interface RevisionEventTable {
	id: Id;
	revision_id: number;
	kind: 'installed' | 'withdrawn';
	author: string;
	reason: string;
	created_at: Fixed<string>;
}

/** A replay, kept until the draft or the log changes. */
export interface ReplayTable {
	revision_id: number;
	log_id: number;
	content_hash: string;
	result: string;
}

/** Tables of the accounts, made and written by the package for accounts; read here. */
export interface UserTable {
	id: string;
	name: string;
	email: string;
	role: 'owner' | 'tuner' | 'apprentice';
	createdAt: string;
}

export interface SessionTable {
	id: string;
	userId: string;
}

export interface Database {
	customers: CustomerTable;
	vehicles: VehicleTable;
	jobs: JobTable;
	revisions: RevisionTable;
	attachments: AttachmentTable;
	logs: LogTable;
	hardware_changes: HardwareChangeTable;
	stage_calls: StageCallTable;
	fills: FillTable;
	typed_readings: TypedReadingTable;
	swap_tests: SwapTestTable;
	plug_readings: PlugReadingTable;
	log_fields: LogFieldTable;
	table_layouts: TableLayoutTable;
	table_proofs: TableProofTable;
	log_channels: LogChannelTable;
	log_blocks: LogBlockTable;
	screenings: ScreeningTable;
	links: LinkTable;
	assignments: AssignmentTable;
	/** Jobs that go with their customer, while they go. */
	leaving: { job_id: number };
	ids: { name: string; last: number };
	layouts: LayoutTable;
	requests: RequestTable;
	mails: MailTable;
	messages: MessageTable;
	caught_mails: CaughtMailTable;
	lookover: LookoverTable;
	photos: PhotoTable;
	invitations: InvitationTable;
	tuner_settings: TunerSettingTable;
	finding_answers: FindingAnswerTable;
	knock_proofs: KnockProofTable;
	knock_proof_steps: KnockProofStepTable;
	hold_answers: HoldAnswerTable;
	revision_events: RevisionEventTable;
	replays: ReplayTable;
	timeslips: TimeslipTable;
	timeline: TimelineTable;
	user: UserTable;
	session: SessionTable;
}
