/** Customers, vehicles, jobs, and what happened in a job. */
import type { Generated, GeneratedAlways } from 'kysely';
import type { Fixed, Id } from './columns.ts';

export interface CustomerTable {
	id: Id;
	name: string;
	email: string | null;
	notes: Generated<string>;
	/** 1: the stand-in of practice, in no list of real work. */
	practice: Generated<number>;
	created_at: Fixed<string>;
}

/** A practice job: which car it is, and how far it was played. */
export interface PracticeSessionTable {
	id: Id;
	job_id: number;
	level: number;
	seed: number;
	/** Account of the trainee. */
	account: string;
	/** `PracticeState` as JSON. */
	state: string;
	created_at: Fixed<string>;
	ended_at: string | null;
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
	/** Account and name of the tuner whose job it is; null for nobody's. */
	tuner_id: Generated<string | null>;
	tuner_name: Generated<string | null>;
	created_at: Fixed<string>;
	/** How the tables of its controller look in the tuner's program. */
	layout_id: number | null;
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
		| 'fill'
		| 'maxima';
	/** Id of the revision, log, …; of the job for `waiting`. */
	ref: number;
}

export interface InspectionTable {
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

/** What a controller or a gauge kept as maxima, typed without a log. */
export interface MaximaReadingTable {
	id: Id;
	job_id: number;
	/** What was in the car. */
	revision_id: number;
	/** `tanto.maxima/1`. */
	document: string;
	author: string;
	created_at: Fixed<string>;
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
