import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { seal, unseal } from './encryption.ts';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'tanto-seal-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

it('is read again by the same folder for the same use, and by nothing else', () => {
	const sealed = seal(folder, 'link', 'a token');
	expect(sealed).not.toContain('token');
	expect(seal(folder, 'link', 'a token')).not.toBe(sealed);
	expect(unseal(folder, 'link', sealed)).toBe('a token');
	expect(unseal(folder, 'mail', sealed)).toBeNull();
	const flipped = Buffer.from(sealed, 'base64url');
	flipped[flipped.length - 1]! ^= 1;
	expect(unseal(folder, 'link', flipped.toString('base64url'))).toBeNull();
	expect(unseal(folder, 'link', 'rubbish')).toBeNull();
	const other = mkdtempSync(join(tmpdir(), 'tanto-seal-'));
	expect(unseal(other, 'link', sealed)).toBeNull();
	rmSync(other, { recursive: true, force: true });
});
