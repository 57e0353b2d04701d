/** Zod at the edges: one clear message that names the path, what was found and what was expected. */
import type { z } from 'zod';
import { InputError } from './input-error.ts';

function pathOf(path: readonly PropertyKey[]): string {
	return path.map((p, i) => (typeof p === 'number' ? `[${p}]` : `${i > 0 ? '.' : ''}${String(p)}`)).join('');
}

function valueAt(input: unknown, path: readonly PropertyKey[]): unknown {
	let at: unknown = input;
	for (const key of path) {
		if (typeof at !== 'object' || at === null) return undefined;
		at = (at as Record<PropertyKey, unknown>)[key];
	}
	return at;
}

function shortly(value: unknown): string {
	if (value === undefined) return 'nothing';
	const text = JSON.stringify(value);
	return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}

/** @throws InputError on the first thing that is wrong, with its path */
export function parseWith<T>(schema: z.ZodType<T>, input: unknown): T {
	const result = schema.safeParse(input);
	if (result.success) return result.data;
	const issue = result.error.issues[0]!;
	const found = shortly(valueAt(input, issue.path));
	const custom = issue.code === 'custom';
	throw new InputError(custom ? issue.message : `${issue.message} (found ${found})`, pathOf(issue.path));
}

/** @throws InputError with line and column when the text is no JSON */
export function parseJson(text: string): unknown {
	try {
		return JSON.parse(text.replace(/^\ufeff/, ''));
	} catch (e) {
		const reason = e instanceof Error ? e.message : '';
		const at = /position (\d+)/.exec(reason)?.[1];
		if (!at) throw new InputError('not valid JSON: the text ends early or is empty');
		const before = text.slice(0, Number(at));
		const line = before.split('\n').length;
		throw new InputError(
			`not valid JSON: unexpected ${JSON.stringify(text[Number(at)] ?? 'end')}`,
			`line ${line}, column ${Number(at) - before.lastIndexOf('\n')}`
		);
	}
}
