/** Room on the disk: what is on its way counts as taken, and gives its room back when it stands still. */
import { afterEach, describe, expect, it } from 'vitest';
import { tmpdir } from 'node:os';
import {
	freeBytes,
	hasRoom,
	isOverShare,
	isReserved,
	release,
	reserve,
	reservedUnder
} from './disk-space.ts';

const folder = tmpdir();
const id = (n: number) => `${folder} customer 1 ${n}`;
afterEach(() => [1, 2, 3].forEach((n) => release(id(n))));

describe('room that is kept', () => {
	it('twelve files that each fit do not together', async () => {
		const tenth = Math.floor((await freeBytes(folder)) / 3 / 2);
		expect(await hasRoom(folder, tenth)).toBe(true);
		reserve(id(1), tenth);
		reserve(id(2), tenth);
		expect(await hasRoom(folder, tenth)).toBe(false);
		expect(await hasRoom('/', 0)).toBe(true);
		release(id(1));
		release(id(2));
		expect(await hasRoom(folder, tenth)).toBe(true);
	});
	it('what has arrived is on the disk, and no longer kept twice', async () => {
		const size = Math.floor((await freeBytes(folder)) / 4);
		reserve(id(1), size, 3 * size);
		expect(await hasRoom(folder, size)).toBe(true);
	});
	it('of one customer leaves three quarters to the others, and one file is always taken', async () => {
		const mine = `${folder} customer 1 `;
		const fifth = Math.floor((await freeBytes(folder)) / 15);
		expect(await isOverShare(folder, mine, 5 * fifth)).toBe(false);
		reserve(id(1), fifth);
		expect(await isOverShare(folder, mine, 1000)).toBe(false);
		expect(await isOverShare(folder, mine, fifth)).toBe(true);
		expect(await isOverShare(folder, `${folder} customer 2 `, fifth)).toBe(false);
	});
	it('ends an hour after the last piece', () => {
		reserve(id(3), 1000, 0, 0);
		expect(isReserved(id(3), 3_599_000)).toBe(true);
		expect(reservedUnder(`${folder} customer 1 `, 3_599_000)).toBe(3000);
		expect(isReserved(id(3), 3_601_000)).toBe(false);
		expect(reservedUnder(`${folder} customer 1 `, 3_601_000)).toBe(0);
	});
});
