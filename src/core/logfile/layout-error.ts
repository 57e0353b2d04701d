/**
 * A text that could be a log, but whose layout nobody recognised: what was seen of it, so that a person can say which column is the
 * time, which line the header, what separates the cells.
 */
import { InputError } from '../input-error.ts';
import type { Separator } from './layout-hint.ts';

export interface LayoutSeen {
	/** Columns as they were taken apart; empty where no header was found. */
	columns: string[];
	separator?: Separator | undefined;
	/** From 1. */
	headerLine?: number | undefined;
	/** First lines of the file, as text. */
	lines?: string[];
}

const SHOWN_COLUMNS = 6;
const SHOWN_CHARS = 24;
const SEPARATOR_WORDS: Record<Separator, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs' };

export class LayoutError extends InputError {
	constructor(
		readonly what: string,
		readonly seen: LayoutSeen
	) {
		super(`${what}; ${said(seen)}`);
		this.name = 'LayoutError';
	}
}

function said({ columns, separator, headerLine }: LayoutSeen): string {
	if (columns.length === 0)
		return 'a log is a table with a line that names the columns and one row a sample. Say which line names them and what separates the cells';
	const names = columns
		.slice(0, SHOWN_COLUMNS)
		.map((n) => `"${n.length > SHOWN_CHARS ? `${n.slice(0, SHOWN_CHARS - 1)}…` : n}"`);
	const more = columns.length > SHOWN_COLUMNS ? ` and ${columns.length - SHOWN_COLUMNS} more` : '';
	const where =
		headerLine === undefined
			? ''
			: `line ${headerLine}${separator ? `, split at ${SEPARATOR_WORDS[separator]},` : ''} `;
	return `${where}names ${names.join(', ')}${more}. Say which column is the time (seconds, milliseconds, hh:mm:ss or ISO 8601)`;
}
