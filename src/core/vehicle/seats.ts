/** Where a lambda sensor sits by the name of its channel, and sheets that say otherwise. */
import { InputError } from '../input-error.ts';
import type { Vehicle } from './document.ts';
import { bankCount } from './facts.ts';

const TITLE: Readonly<Record<string, string>> = {
	bank1: 'bank 1',
	bank2: 'bank 2',
	collector: 'the collector'
};
const titleOf = (site: string) => TITLE[site] ?? site.replace('cyl', 'cylinder ');

/** The place that a channel names: `bank2` for the lambda of bank 2, `cyl3` for that of cylinder 3; `null` where it names none. */
export function seatNamed(channel: string): string | null {
	const [, bank, cylinder] = /^lambda\.(?:b([12])|cyl(\d{1,2}))$/.exec(channel) ?? [];
	return bank ? `bank${bank}` : cylinder ? `cyl${cylinder}` : null;
}

/** Where a sensor sits as long as nobody says otherwise: where its channel says, an instrument in the common pipe of two banks. */
export const usualSeat = (channel: string, banks: number): string =>
	seatNamed(channel) ?? (banks === 1 ? 'bank1' : 'collector');

/**
 * A sheet in which a channel of one bank sits in the other is read in two ways, and each judges another bank: nothing is judged before somebody
 * said which. A sensor that was moved for one log is said with that log, not in the sheet.
 * @throws InputError naming both readings
 */
export function refuseContrarySeats(vehicle: Vehicle): void {
	for (const [i, { channel, site }] of (vehicle.sensors?.lambda ?? []).entries()) {
		const named = seatNamed(channel);
		if (named === null || named === site) continue;
		// In the common pipe, or in one bank of an engine that has one, nothing is contradicted.
		if (site === 'collector' || bankCount(vehicle) === 1) continue;
		throw new InputError(
			`the channel is that of ${titleOf(named)}, the sheet says that its sensor sits in ${titleOf(site)}: correct the place, or the channel`,
			`sensors.lambda[${i}].site`
		);
	}
}
