/** Ready on the day: which logs make the band that a car keeps by itself. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { Levels } from '$core/screening/levels.ts';
import type { Severity } from '$core/screening/types.ts';
import { changeHardware } from '$lib/server/use-cases/change-hardware.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { createJob, jobView } from '$lib/server/jobs/jobs.ts';
import { logLine, takeOut } from './logs.ts';
import { readinessOf } from './readiness.ts';
import {
	openWorld,
	putJob,
	putLog,
	putScreening,
	SMALL_CALIBRATION,
	type World
} from '$lib/server/testing/world.ts';

let world: World;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db, {});
});
afterEach(() => world.close());

async function log(day: number, coolant: number, found: Severity[] = []): Promise<number> {
	const id = await putLog(world.db, jobId, {
		at: `2026-04-${String(day).padStart(2, '0')}T10:00:00.000Z`,
		sha256: `${day}`.padStart(64, '0')
	});
	const run = await putScreening(
		world.db,
		id,
		found.map((severity) => ({ severity, title: 't' }))
	);
	const row = await world.db
		.selectFrom('screenings')
		.select('brief')
		.where('id', '=', run)
		.executeTakeFirstOrThrow();
	const levels: Levels = { coolant };
	await world.db
		.updateTable('screenings')
		.set({ brief: JSON.stringify({ ...JSON.parse(row.brief), levels }), profile: '{}' })
		.where('id', '=', run)
		.execute();
	return id;
}
async function own(id: number) {
	const sheet = await readinessOf(
		world.db,
		(await jobView(world.db, jobId))!,
		(await logLine(world.db, id))!
	);
	return sheet!.own.find((o) => o.id === 'coolant')!;
}

it('the band is that of earlier logs in which the car was well', async () => {
	for (const [day, c] of [90, 91, 92].entries()) await log(day + 1, c);
	await log(4, 118, ['stop']);
	const now = await log(5, 99);
	expect(await own(now)).toMatchObject({ value: 99, out: true, band: { low: 87, high: 95, logs: 3 } });
});

it('a log that was taken out makes no band, nor does one from before other hardware', async () => {
	const first = await log(1, 90);
	await log(2, 91);
	await log(3, 92);
	const now = await log(9, 99);
	await takeOut(world.db, (await logLine(world.db, first))!, 'Sable', 'it is of another car');
	expect((await own(now)).band).toBeNull();
	await log(4, 90);
	await log(5, 90);
	const later = await log(10, 90);
	expect((await own(later)).band).not.toBeNull();
	await changeHardware(
		{ db: world.db } as Parameters<typeof changeHardware>[0],
		(await jobView(world.db, jobId))!,
		'Sable',
		{ what: 'a bigger radiator', at: '2026-04-08T10:00:00.000Z', injectors: false }
	);
	expect((await own(later)).band).toBeNull();
});

it('a log that was not read has no sheet', async () => {
	const id = await putLog(world.db, jobId, {});
	const job = (await jobView(world.db, jobId))!;
	expect(await readinessOf(world.db, job, (await logLine(world.db, id))!)).toBeNull();
});

it('without a band of its own it stands beside five vehicles of its kind, which decide nothing', async () => {
	const kin = async (n: number, cylinders: number, coolant: number) => {
		const car = vehicleWith({ cylinders }, { name: `car ${n}` });
		const id = await createJob(world.db, {
			customer: `owner ${n}`,
			email: null,
			title: `job ${n}`,
			vehicle: car,
			calibration: SMALL_CALIBRATION
		});
		const mine = jobId;
		jobId = id;
		await log(20 + n, coolant);
		jobId = mine;
	};
	const { cylinders } = (await jobView(world.db, jobId))!.vehicle.engine;
	for (let n = 0; n < 4; n++) await kin(n, cylinders, 88 + n);
	await kin(5, cylinders + 2, 60);
	const now = await log(1, 104);
	expect(await own(now)).toMatchObject({ band: null, kind: null, out: false });
	await kin(6, cylinders, 92);
	const { kind, out } = await own(now);
	expect(kind).toMatchObject({ logs: 5 });
	expect((kind!.low + kind!.high) / 2).toBe(90);
	expect(kind!.high).toBeLessThan(104);
	// It is told, and decides nothing: another car's habit is no limit.
	expect(out).toBe(false);
});
