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

/** Several fields of a form at once, so that each can say its own beside itself. */
export class FieldErrors extends InputError {
	/** @param fields what is wrong with each, by the name of its input @param labels how a reader knows them */
	constructor(
		readonly fields: Readonly<Record<string, string>>,
		readonly labels: Readonly<Record<string, string>>
	) {
		const said = Object.entries(fields).map(([name, problem]) => `${labels[name] ?? name}: ${problem}`);
		super(said.length === 1 ? said[0]! : `${said.length} fields need another look. ${said.join('; ')}`);
		this.name = 'FieldErrors';
	}
}

/** No message is longer: what was found in a file may be of any length. */
const LONGEST = 500;

function shortened(text: string): string {
	return text.length <= LONGEST ? text : `${text.slice(0, LONGEST * 0.7)} … ${text.slice(3 - LONGEST * 0.3)}`;
}
