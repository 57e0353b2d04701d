/** Every route that changes something is in the table of rights, and nothing else is. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { deedOf, GUARDED, refusedTo } from './rights.ts';

const routes = join(import.meta.dirname, '../../../routes');
/** Behind a link or before an account there is, each with a key of its own. */
const OPEN = /^\/(sign-in|setup|join|c|forgotten|reset)(\/|$)/;

/** Names of the form actions of a page: the members of its `actions`, one tab in. */
function actionsIn(source: string): string[] {
	const body = /export const actions: Actions = \{([^]*)/.exec(source)?.[1] ?? '';
	return [...body.matchAll(/^\t(\w+)(?=: |,|\(|$)/gm)].map((m) => m[1]!).filter((n) => n !== 'async');
}

function deeds(): string[] {
	const files = readdirSync(routes, { recursive: true, encoding: 'utf8' });
	return files.flatMap((file) => {
		const id = `/${file.replace(/\/?\+(page\.)?server\.ts$/, '')}`;
		if (OPEN.test(id)) return [];
		if (file.endsWith('+page.server.ts'))
			return actionsIn(readFileSync(join(routes, file), 'utf8')).map((name) => `${id} ${name}`);
		if (!file.endsWith('+server.ts')) return [];
		const methods = readFileSync(join(routes, file), 'utf8').matchAll(
			/^export const (POST|PUT|PATCH|DELETE)\b/gm
		);
		return [...methods].map((m) => `${id} ${m[1]}`);
	});
}

describe('the table of rights', () => {
	it('has every route that changes something, and no other', () => {
		expect([...GUARDED].sort()).toEqual(deeds().sort());
	});
	it.each([
		['/(app)/jobs/[job]/revisions/[rev]/release', '/release'],
		['/(app)/jobs/[job]/limits', ''],
		['/(app)/jobs/[job]', '/message'],
		['/(app)/jobs/[job]', '/link'],
		['/(app)/jobs/[job]/logs/[log]', '/answer'],
		['/(app)/jobs/[job]/revisions/[rev]', '/discard'],
		['/(app)/team', '/invite']
	])('an apprentice may not: %s %s', (route, action) => {
		const deed = deedOf(route, 'POST', new URLSearchParams(action))!;
		expect(refusedTo('apprentice', deed)).not.toBeNull();
		expect(refusedTo('owner', deed)).toBeNull();
	});
	it('an apprentice drafts and writes notes, a tuner all but the team, and what nobody knows is for nobody', () => {
		expect(refusedTo('apprentice', '/(app)/jobs/[job] note')).toBeNull();
		expect(refusedTo('apprentice', '/api/v1/revisions/[rev]/changes PUT')).toBeNull();
		expect(refusedTo('tuner', '/(app)/jobs/[job]/limits default')).toBeNull();
		expect(refusedTo('tuner', '/(app)/team remove')).toContain('owner');
		expect(refusedTo('owner', '/(app)/jobs/[job] sell')).not.toBeNull();
	});
	it('looking changes nothing, and the action is the one that the address names', () => {
		expect(deedOf('/(app)/team', 'GET', new URLSearchParams('/invite'))).toBeNull();
		expect(deedOf('/(app)/team', 'POST', new URLSearchParams('a=b&/invite'))).toBe('/(app)/team invite');
		expect(deedOf('/api/v1/settings/[key]', 'PUT', new URLSearchParams())).toBe('/api/v1/settings/[key] PUT');
	});
});
