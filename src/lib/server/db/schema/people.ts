/** Who gets in, what is asked of them and written to them. */
import type { Generated } from 'kysely';
import type { Fixed, Id } from './columns.ts';

/** A drive plan as it was sent. */
export interface RequestTable {
	id: Id;
	job_id: number;
	template: string;
	/** `tanto.request/1` */
	document: string;
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

export interface MailTable {
	id: Id;
	job_id: number | null;
	to_address: string;
	subject: string;
	body: string;
	state: 'waiting' | 'sent' | 'failed';
	/** Since when its last bytes are with the mail server, whose answer isn't written down yet. */
	handed_at: string | null;
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

/** What the workshop as a whole has decided. */
export interface WorkshopTable {
	key: string;
	value: string;
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
