/**
 * Bad input, told once and completely: what is wrong, where, and what to do.
 * The only error that readers of files and documents throw on purpose; whoever holds the file's name adds it.
 */
export class InputError extends Error {
	/** Where in the input: a line (`line 17`), a JSON path (`items[2].x.points`), or empty for the whole. */
	readonly where: string;

	constructor(message: string, where = '') {
		super(shortened(where ? `${where}: ${message}` : message));
		this.name = 'InputError';
		this.where = where;
	}
}

/** No message is longer: what was found in a file may be of any length. */
const LONGEST = 500;

function shortened(text: string): string {
	return text.length <= LONGEST ? text : `${text.slice(0, LONGEST * 0.7)} … ${text.slice(3 - LONGEST * 0.3)}`;
}
