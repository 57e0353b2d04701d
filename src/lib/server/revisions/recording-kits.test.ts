/** Recording kits: kept with a controller's layout, found by the next job with that controller. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { starterLayout } from '$core/calibration/tables/layout.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { openWorld, putJob, type World } from '$lib/server/testing/world.ts';
import { addKitFile, keepSteps, kitOf, kitOfJob, removeKitFile } from './recording-kits.ts';
import { dropLayout, keepLayout } from './table-layouts.ts';

const CONTROLLER = { hardware: 'H7', software: '2' };
let world: World;
let layoutId: number;
beforeEach(async () => {
	world = await openWorld();
	layoutId = await keepLayout(world.db, {
		...starterLayout('speed-density'),
		name: 'H7',
		controller: CONTROLLER
	});
});
afterEach(() => world.close());
const file = (n: number) => ({ sha256: String(n).padStart(64, '0'), bytes: n });
const put = (name: string, n = 1) => addKitFile(world.db, layoutId, 'Ann', file(n), name);

describe('a recording kit', () => {
	it('is that of the controller: the next job with it has it, another one not', async () => {
		await keepSteps(world.db, layoutId, 'Ann', 'Load the channel set.\r\n\r\n  Record.  \n');
		await put('channels.set');
		const jobWith = async (hardware: string) =>
			(await jobView(
				world.db,
				await putJob(world.db, { vehicle: vehicleWith({}, { controller: { ...CONTROLLER, hardware } }) })
			))!;
		expect(await kitOfJob(world.db, await jobWith('H7'))).toMatchObject({
			layoutId,
			steps: ['Load the channel set.', 'Record.'],
			files: [{ name: 'channels.set', picture: null }]
		});
		expect(await kitOfJob(world.db, await jobWith('H8'))).toEqual({ layoutId: null, steps: [], files: [] });
	});
	it('shows pictures by their name, and replaces a file by one of the same name', async () => {
		await put('screen.PNG', 1);
		expect(await put('gauges.layout', 2)).toBeNull();
		expect(await put('gauges.layout', 3)).toBe(file(2).sha256);
		expect((await kitOf(world.db, layoutId)).files.map((f) => [f.name, f.picture, f.bytes])).toEqual([
			['screen.PNG', 'image/png', 1],
			['gauges.layout', null, 3]
		]);
	});
	it('never takes a name for a path', async () => {
		await put('../../etc/passwd');
		expect((await kitOf(world.db, layoutId)).files[0]!.name).toBe('passwd');
	});
	it('gives a removed file’s number to no other, and goes with its layout', async () => {
		await put('a.set');
		const { id } = (await kitOf(world.db, layoutId)).files[0]!;
		expect(await removeKitFile(world.db, layoutId, id)).toBe(file(1).sha256);
		await expect(removeKitFile(world.db, layoutId, id)).rejects.toThrow('no such file');
		await put('b.set');
		expect((await kitOf(world.db, layoutId)).files[0]!.id).toBeGreaterThan(id);
		await dropLayout(world.db, layoutId);
		expect(await kitOf(world.db, layoutId)).toEqual({ steps: [], files: [] });
		await expect(put('c.set')).rejects.toThrow('no such layout');
	});
	it.each([
		['a'.repeat(201), 'longer than 200'],
		[Array.from({ length: 16 }, (_, i) => `step ${i}`).join('\n'), 'more than 15 steps']
	])('steps that nobody follows are refused (%#)', async (text, words) => {
		await expect(keepSteps(world.db, layoutId, 'Ann', text)).rejects.toThrow(words);
		expect((await kitOf(world.db, layoutId)).steps).toEqual([]);
	});
});
