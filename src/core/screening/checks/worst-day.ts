/** How much more air the worst day brings: colder and denser, as far as the way boost is controlled lets it through. */
import type { Vehicle } from '../../vehicle/document.ts';
import type { Profile } from '../../limits/profile.ts';

const KELVIN = 273.15;
/** (γ − 1) / γ of air: temperature rise of an isentropic compression. */
const ISENTROPIC = 0.286;

export type BoostControl = NonNullable<Vehicle['engine']['boostControl']>;

/** How a vehicle's boost is controlled: as stated, else by absolute pressure for a turbo, by its ratio for a blower; none for aspirated. */
export function boostControlOf(vehicle: Vehicle): BoostControl | null {
	const { aspiration, boostControl } = vehicle.engine;
	if (aspiration === 'na') return null;
	return boostControl ?? (aspiration === 'turbo' ? 'absolute' : 'ratio');
}

export interface Air {
	mapKpa: number;
	iatC: number;
	/** Outside air of the logged day. */
	ambientC: number;
	baroKpa: number;
}

/** Manifold pressure on the worst day, kPa. */
function mapOnWorstDay(control: BoostControl | null, now: Air, profile: Profile): number {
	const { mapKpa, ambientC, baroKpa } = now;
	const worst = profile.worstDayKpa;
	switch (control) {
		case 'absolute':
			return mapKpa;
		case 'gauge':
			return mapKpa + worst - baroKpa;
		case 'centrifugal': {
			// At one shaft speed the wheel does the same work: (PR^0.286 − 1)·T1 stays.
			const work =
				((mapKpa / baroKpa) ** ISENTROPIC - 1) * ((ambientC + KELVIN) / (profile.worstDayC + KELVIN));
			return worst * Math.max(1, work + 1) ** (1 / ISENTROPIC);
		}
		default:
			// A blower of fixed displacement keeps its ratio, and an aspirated engine its share of the barometer.
			return (mapKpa / baroKpa) * worst;
	}
}

/**
 * Air mass on the worst day over the air mass now. Intake air is then as much warmer than the outside as it was in the log.
 * @returns a factor of at least 1: on a day that is worse already nothing is taken off
 */
export function worstDayAir(control: BoostControl | null, now: Air, profile: Profile): number {
	const hotter = Math.max(0, now.iatC - now.ambientC);
	const colder = (now.iatC + KELVIN) / (profile.worstDayC + hotter + KELVIN);
	return Math.max(1, (colder * mapOnWorstDay(control, now, profile)) / now.mapKpa);
}
