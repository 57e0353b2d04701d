/** One server a folder. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { lockFolder } from './lock.ts';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'tanto-lock-'))));
afterEach(() => rmSync(folder, { recursive: true }));

describe('one server a folder', () => {
	it('a second one is refused in a sentence, and the lock goes with its holder', () => {
		const lock = lockFolder(folder);
		const second = () =>
			spawnSync(
				process.execPath,
				[
					'--import',
					'tsx',
					'-e',
					`import('./src/lib/server/storage/lock.ts').then(({ lockFolder }) => { lockFolder(${JSON.stringify(folder)}); process.stdout.write('in'); }).catch((e) => process.stdout.write(e.message))`
				],
				{ encoding: 'utf8' }
			).stdout;
		expect(second()).toContain('another Tanto server already works in');
		lock.release();
		expect(second()).toBe('in');
	});
	it('a folder that is none is refused', () => {
		expect(() => lockFolder(join(folder, 'missing', 'deeper'))).toThrow('nothing can be written');
	});
});
