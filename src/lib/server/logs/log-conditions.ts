/** What was said of the day of a log and of the seats of its sensors, as it is stored, as a form says it, and as a moved sensor tells it. */
import { InputError } from '$core/input-error.ts';
import { CARRIED, OWN } from '$core/swaps/moved-sensor.ts';
import type { Swap } from '$core/swaps/document.ts';
import { parseConditions, vehicleOn, type Conditions } from '$core/vehicle/conditions.ts';
import type { Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';

export const conditionsFrom = (stored: string | null): Conditions | null =>
	stored === null ? null : parseConditions(JSON.parse(stored));

const NUMBERS = ['ambientC', 'pressureHpa', 'seaLevelHpa', 'altitudeM', 'ethanolPct'] as const;
const SEAT = 'site.';

/**
 * Conditions out of the fields of a form, named as in the document, seats as `site.CHANNEL`; `null` where all are empty.
 * @throws InputError naming the field
 */
export function conditionsFromFields(
	fields: Readonly<Record<string, string>>,
	vehicle: Vehicle
): Conditions | null {
	const out: Record<string, unknown> = {};
	const sites: Record<string, string> = {};
	for (const [name, text] of Object.entries(fields)) {
		const value = text.trim();
		if (value === '') continue;
		if ((NUMBERS as readonly string[]).includes(name)) {
			const number = Number(value.replace(',', '.'));
			if (!Number.isFinite(number)) throw new InputError(`"${value}" is no number`, name);
			out[name] = number;
		} else if (name.startsWith(SEAT)) sites[name.slice(SEAT.length)] = value;
	}
	if (Object.keys(sites).length) out['sites'] = sites;
	if (Object.keys(out).length === 0) return null;
	const conditions = parseConditions({ schema: 'tanto.conditions/1', ...out });
	vehicleOn(vehicle, conditions);
	return conditions;
}

/** Where the sensor that a test moved sat in one of its logs; `null` where the logs don't tell which sensor that is. */
export async function seatsByTest(
	db: Db,
	swap: Swap,
	which: 'before' | 'after' | 'back',
	logs: readonly number[]
): Promise<Record<string, string> | null> {
	if (swap.kind !== 'lambda-moved') return null;
	const channels = await Promise.all(
		logs.map(async (id) => {
			const rows = await db
				.selectFrom('log_channels')
				.innerJoin('logs', (on) =>
					on.onRef('logs.id', '=', 'log_channels.log_id').onRef('logs.run', '=', 'log_channels.run')
				)
				.select('channel')
				.where('logs.id', '=', id)
				.execute();
			return new Set(rows.map((r) => r.channel));
		})
	);
	const carried = CARRIED.find((c) => channels.every((of) => of.has(c)));
	const own = OWN.filter((c) => channels.at(-1)!.has(c));
	const channel: string | null = carried ?? (own.length === 1 ? own[0]! : null);
	const other = swap.from === 'bank2' ? 'bank1' : 'bank2';
	return channel === null ? null : { [channel]: which === 'after' ? other : (swap.from ?? 'bank1') };
}
