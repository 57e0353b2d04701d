/** What was said of the day and of the sensors' seats in one log: `tanto.conditions/1`. A channel of the log beats a stated figure. */
import { z } from 'zod';
import { InputError } from '../input-error.ts';
import { parseWith } from '../parse.ts';
import type { Vehicle } from './document.ts';
import { bankCount } from './facts.ts';

const SITE = /^(bank[12]|collector|cyl(1[0-6]|[1-9]))$/;
const LAMBDA = /^lambda\.(b[12]|ref2?|dyno)$/;

export const conditionsSchema = z.looseObject({
	schema: z.literal('tanto.conditions/1'),
	ambientC: z.number().min(-60).max(60).optional(),
	/** At the place. */
	pressureHpa: z.number().min(500).max(1100).optional(),
	/** Of a weather report: as it would be at the sea. */
	seaLevelHpa: z.number().min(850).max(1100).optional(),
	altitudeM: z.number().min(-500).max(5500).optional(),
	ethanolPct: z.number().min(0).max(100).optional(),
	/** Where a lambda sensor sat in this log, by its channel. */
	sites: z
		.record(
			z.string().regex(LAMBDA, 'is no lambda channel of an engine or an instrument'),
			z.string().regex(SITE, 'is bank1, bank2, collector or a cylinder such as cyl3')
		)
		.optional()
});

export type Conditions = z.infer<typeof conditionsSchema>;

/** @throws InputError naming the path of the first fault */
export const parseConditions = (input: unknown): Conditions => parseWith(conditionsSchema, input);

/** Pressure at the place, kPa: stated, else a weather report's at the height (ISO 2533); `null` where neither is said. */
export function statedPressureKpa(c: Conditions): number | null {
	if (c.pressureHpa !== undefined) return c.pressureHpa / 10;
	if (c.seaLevelHpa === undefined && c.altitudeM === undefined) return null;
	const sea = c.seaLevelHpa ?? 1013.25;
	return (sea * (1 - 2.25577e-5 * (c.altitudeM ?? 0)) ** 5.25588) / 10;
}

/**
 * The vehicle as it was for one log: its barometer, its fuel and the seats of its sensors.
 * @throws InputError for a seat that the engine doesn't have, or two sensors of the controller in one
 */
export function vehicleOn(vehicle: Vehicle, conditions: Conditions | null): Vehicle {
	if (!conditions) return vehicle;
	const kpa = statedPressureKpa(conditions);
	const { ethanolPct } = conditions;
	return {
		...vehicle,
		...(kpa === null ? {} : { baselines: { ...vehicle.baselines, ambientPressureKpa: kpa } }),
		...(ethanolPct === undefined ? {} : { fuel: { ...vehicle.fuel, ethanolPct } }),
		...(conditions.sites
			? { sensors: { ...vehicle.sensors, lambda: seated(vehicle, conditions.sites) } }
			: {})
	} as Vehicle;
}

type Sensors = NonNullable<NonNullable<Vehicle['sensors']>['lambda']>;

function seated(vehicle: Vehicle, sites: Readonly<Record<string, string>>): Sensors {
	const known: Sensors = vehicle.sensors?.lambda ?? [];
	for (const [channel, site] of Object.entries(sites)) {
		if (site === 'bank2' && bankCount(vehicle) === 1)
			throw new InputError('the engine has one bank', `sites.${channel}`);
		if (site.startsWith('cyl') && Number(site.slice(3)) > vehicle.engine.cylinders)
			throw new InputError(`the engine has ${vehicle.engine.cylinders} cylinders`, `sites.${channel}`);
	}
	const moved = known.map((s) => (sites[s.channel] === undefined ? s : { ...s, site: sites[s.channel]! }));
	const others = Object.entries(sites).filter(([channel]) => !known.some((s) => s.channel === channel));
	return [
		...moved,
		...others.map(([channel, site]) => ({
			channel,
			kind: channel.startsWith('lambda.b') ? ('factory' as const) : ('independent' as const),
			site
		}))
	];
}
