/** Zod at the edges: one clear message that names the path, what was found and what was expected. */
import { parse as parseTolerantly, type ParseError } from 'jsonc-parser';
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
	let text: string;
	try {
		text = JSON.stringify(value) ?? String(value);
	} catch {
		return 'something too deeply nested to show';
	}
	return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}

/** @throws InputError on the first thing that is wrong, with its path */
export function parseWith<T>(schema: z.ZodType<T>, input: unknown): T {
	const result = schema.safeParse(input);
	if (result.success) return result.data;
	const [first] = faultsOf(schema, input);
	throw new InputError(first!.problem, first!.path);
}

/** Everything that is wrong, each with its path; empty where nothing is. */
export function faultsOf(schema: z.ZodType, input: unknown): { path: string; problem: string }[] {
	const result = schema.safeParse(input);
	if (result.success) return [];
	return result.error.issues.map((issue) => ({
		path: pathOf(issue.path),
		problem:
			issue.code === 'custom'
				? issue.message
				: `${issue.message} (found ${shortly(valueAt(input, issue.path))})`
	}));
}

/** No document of ours is nearly so deep; what is would take the parsers behind this one down. */
const DEEPEST = 100;

function refuseDeep(text: string): void {
	let depth = 0;
	let quoted = false;
	for (let i = 0; i < text.length; i++) {
		const c = text.charCodeAt(i);
		if (quoted) {
			if (c === 92) i++;
			else if (c === 34) quoted = false;
		} else if (c === 34) quoted = true;
		else if (c === 123 || c === 91) {
			if (++depth > DEEPEST)
				throw new InputError(`nested more than ${DEEPEST} levels deep; no document of Tanto is`);
		} else if (c === 125 || c === 93) depth--;
	}
}

/** @throws InputError with line and column when the text is no JSON */
export function parseJson(text: string): unknown {
	const plain = text.replace(/^\ufeff/, '');
	if (plain.trim() === '') throw new InputError('the text is empty; JSON was expected');
	refuseDeep(plain);
	try {
		return JSON.parse(plain);
	} catch {
		// The language's own message has no position for short texts; the tolerant parser tells where it stumbled.
		const errors: ParseError[] = [];
		parseTolerantly(plain, errors, { disallowComments: true });
		const [first] = errors;
		const offset = first?.offset ?? plain.length;
		const before = plain.slice(0, offset);
		const line = before.split('\n').length;
		const found = plain.slice(offset, offset + Math.max(1, first?.length ?? 1));
		throw new InputError(
			`not valid JSON: unexpected ${found ? JSON.stringify(found.slice(0, 30)) : 'end of the text'}`,
			`line ${line}, column ${offset - before.lastIndexOf('\n')}`
		);
	}
}
