/** Command line words: names, options with values, and what is wrong with them. */
import { parseArgs } from 'node:util';

export class UsageError extends Error {}

/** An option, its value, and the words that came after it. */
export interface Group {
	value: string;
	words: string[];
}

export interface Words {
	positionals: string[];
	/** Values by option name, in the order given. */
	options: Map<string, string[]>;
	/** Options without a value that were given. */
	flags: Set<string>;
	/** Uses of the option that gathers words, in the order given. */
	groups: Group[];
	/** What belongs to the file before it: values by option and file. */
	beside: Map<string, Map<string, string[]>>;
}

/**
 * @param allowed option names that take a value, without dashes
 * @param more `flags`: options without a value; `gathers`: the option that takes a value and all words after it, up to its next use;
 * `beside`: options that belong to the file before them, `many` of those any number of times; `files`: options whose value is such a file
 */
export function words(
	args: string[],
	allowed: readonly string[],
	more: {
		flags?: readonly string[];
		gathers?: string;
		beside?: readonly string[];
		many?: readonly string[];
		files?: readonly string[];
	} = {}
): Words {
	const { flags = [], gathers, beside = [], many = [], files = [] } = more;
	try {
		const { tokens } = parseArgs({
			args,
			allowPositionals: true,
			tokens: true,
			options: Object.fromEntries([
				...[...allowed, ...beside, ...(gathers ? [gathers] : [])].map(
					(n) => [n, { type: 'string', multiple: true }] as const
				),
				...flags.map((n) => [n, { type: 'boolean' }] as const)
			])
		});
		const out: Words = {
			positionals: [],
			options: new Map(),
			flags: new Set(),
			groups: [],
			beside: new Map()
		};
		let file: string | null = null;
		for (const t of tokens) {
			if (t.kind === 'positional') (out.groups.at(-1)?.words ?? out.positionals).push((file = t.value));
			else if (t.kind !== 'option') continue;
			else if (beside.includes(t.name)) {
				if (file === null) throw new UsageError(`--${t.name} stands after the log that it belongs to`);
				const of = out.beside.get(t.name) ?? new Map<string, string[]>();
				const before = of.get(file) ?? [];
				if (before.length && !many.includes(t.name))
					throw new UsageError(`--${t.name} may be given once for ${file}`);
				out.beside.set(t.name, of.set(file, [...before, t.value ?? '']));
			} else if (t.name === gathers) out.groups.push({ value: t.value ?? '', words: [] });
			else if (t.value === undefined) out.flags.add(t.name);
			else {
				if (files.includes(t.name)) file = t.value;
				out.options.set(t.name, [...(out.options.get(t.name) ?? []), t.value]);
			}
		}
		return out;
	} catch (e) {
		throw new UsageError(e instanceof Error ? e.message : String(e));
	}
}

export function single(w: Words, name: string): string | undefined {
	const given = w.options.get(name);
	if (given && given.length > 1) throw new UsageError(`--${name} may be given once`);
	return given?.[0];
}

/**
 * Index of the calibration that a log was made with; the last one where nothing is stated.
 * @throws UsageError unless it is one of the `count` calibrations given
 */
export function statedIndex(value: string | undefined, name: string, count: number): number {
	if (value === undefined) return count - 1;
	const index = Number(value);
	if (!(Number.isInteger(index) && index >= 0 && index < count))
		throw new UsageError(
			`--${name} ${value}: a number from 0 to ${count - 1} (the calibrations given, oldest first)`
		);
	return index;
}

export function required(w: Words, name: string): string {
	const value = single(w, name);
	if (value === undefined) throw new UsageError(`--${name} is missing`);
	return value;
}
