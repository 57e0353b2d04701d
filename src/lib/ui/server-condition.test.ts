import { describe, expect, it } from 'vitest';
import { conditionLines, sizeText, type ShownCondition } from './server-condition';

const NOW = Date.parse('2030-06-10T12:00:00Z');
const well: ShownCondition = {
	disk: { free: 100 * 2 ** 30, database: 5 * 2 ** 20, files: 2 ** 31, fileCount: 12 },
	backup: { at: '2030-06-10T03:15:00Z', missing: 0 },
	mails: { waiting: 0, failed: 0, off: false },
	logs: { screened: 12 },
	outdated: 0
};
const state = (c: Partial<ShownCondition>, title: string) =>
	conditionLines({ ...well, ...c }, NOW).find((l) => l.title === title)!;

describe('the condition of the server', () => {
	it('of one that is well has nothing to do', () => {
		expect(conditionLines(well, NOW).filter((l) => l.state === 'fix' || l.state === 'watch')).toEqual([]);
	});
	it.each([
		[{ backup: null }, 'Last good backup', 'fix'],
		[{ backup: { at: '2030-06-07T03:15:00Z', missing: 0 } }, 'Last good backup', 'fix'],
		[{ backup: { at: '2030-06-10T03:15:00Z', missing: 2 } }, 'Last good backup', 'fix'],
		[{ disk: { ...well.disk, free: 5 * 2 ** 30 } }, 'Room on the disk', 'watch'],
		[{ disk: { ...well.disk, free: 2 ** 30 } }, 'Room on the disk', 'fix'],
		[{ mails: { waiting: 0, failed: 1, off: false } }, 'Mail', 'watch']
	] as const)('%j is said with what to do', (change, title, expected) => {
		const line = state(change, title);
		expect(line.state).toBe(expected);
		expect(line.advice).not.toBe('');
	});
	it('sizes are in the unit that people say', () => {
		expect([900, 5_000_000, 3 * 2 ** 30].map(sizeText)).toEqual(['1 kB', '5 MB', '3.0 GB']);
	});
});
