/** Something of the engine was changed: the event, and what it takes out of the vehicle. */
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { parseWith } from '$core/parse.ts';
import type { App } from '$lib/server/context.ts';
import { insertHardware, withoutMeasured } from '$lib/server/jobs/hardware.ts';
import { vehicleOfJob } from '$lib/server/jobs/vehicles.ts';
import { saveVehicle } from './change-vehicle.ts';

const change = z.object({
	what: z.string().trim().min(3, 'say what was changed').max(300),
	at: z.iso.datetime({ message: 'say when it was changed' }),
	/** Other injectors are in. */
	injectors: z.boolean()
});

/**
 * Something of the engine was changed. Logs from before no longer speak for it, and baselines that were measured on it are taken out of
 * the vehicle.
 */
export async function changeHardware(
	app: App,
	job: { id: number; vehicleId: number },
	author: string,
	entered: z.input<typeof change>,
	now = new Date()
): Promise<void> {
	const { what, at, injectors } = parseWith(change, entered);
	if (new Date(at) > now) throw new InputError('it was changed in the future: say when it was done');
	await insertHardware(app.db, job.id, { what, at, author, injectors }, now);
	const vehicle = await vehicleOfJob(app.db, job.id);
	const reset = withoutMeasured(vehicle);
	if (reset !== vehicle) await saveVehicle(app, job.vehicleId, reset);
}
