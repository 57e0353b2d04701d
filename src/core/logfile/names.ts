/** Column names that say what part a column plays in a table. */

/** Columns by these names carry time and keep double precision: Float32 is too coarse over hours. */
export function isTimeName(name: string): boolean {
	return /^(time|timestamp|t|elapsed|seconds|secs|sec|clock|record time|log time|time of day)$/i.test(
		name.trim().replace(/[_\s]+/g, ' ')
	);
}

/** In a long form: the column that names the channel of the row. */
export function isChannelName(name: string): boolean {
	return /^(channel|signal|parameter|variable|sensor|item|name|quantity)( name)?$/i.test(name.trim());
}

export function isValueName(name: string): boolean {
	return /^(value|reading|data|val)$/i.test(name.trim());
}

export function isUnitName(name: string): boolean {
	return /^(units?)$/i.test(name.trim());
}
