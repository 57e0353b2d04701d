/** Revisions, their files, and what they went out over. */
import type { Generated } from 'kysely';
import type { Fixed, Id } from './columns.ts';

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

/** Released revisions whose tables the customer can download in plain numbers. */
export interface HandedTablesTable {
	revision_id: number;
	author: string;
	created_at: Fixed<string>;
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

/** Short steps of how to record with a controller's program, one a line. */
export interface RecordingKitTable {
	layout_id: number;
	steps: string;
	author: string;
	updated_at: string;
}

/** Files of a recording kit. */
export interface KitFileTable {
	id: Id;
	layout_id: number;
	name: string;
	bytes: number;
	sha256: string;
	author: string;
	created_at: Fixed<string>;
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

/** What a tuner wrote to a hold before a revision went out. */
export interface HoldAnswerTable {
	revision_id: number;
	hold: string;
	title: string;
	reason: string;
	author: string;
	created_at: string;
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
