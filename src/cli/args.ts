/** Command line words: names, options with values, and what is wrong with them. */
import { parseArgs } from 'node:util';

export class UsageError extends Error {}

export interface Words {
	positionals: string[];
	/** Values by option name, in the order given. */
	options: Map<string, string[]>;
}

/** @param allowed option names that take a value, without dashes */
export function words(args: string[], allowed: readonly string[]): Words {
	try {
		const { positionals, values } = parseArgs({
			args,
			allowPositionals: true,
			options: Object.fromEntries(allowed.map((name) => [name, { type: 'string', multiple: true }] as const))
		});
		return { positionals, options: new Map(Object.entries(values).map(([k, v]) => [k, v as string[]])) };
	} catch (e) {
		throw new UsageError(e instanceof Error ? e.message : String(e));
	}
}

export function single(w: Words, name: string): string | undefined {
	const given = w.options.get(name);
	if (given && given.length > 1) throw new UsageError(`--${name} may be given once`);
	return given?.[0];
}

export function required(w: Words, name: string): string {
	const value = single(w, name);
	if (value === undefined) throw new UsageError(`--${name} is missing`);
	return value;
}
