/** Where a cell of a table lies in what a tuner would say: idle, cruise, onset of boost, full throttle low, middle, top. */
import { axisSource, turner, type AxisRef } from '../calibration/axes.ts';
import type { CurveItem, MapItem } from '../calibration/document.ts';
import type { Vehicle } from '../vehicle/document.ts';

export const PLACES = {
	idle: 'Idle',
	cruise: 'Cruise',
	part: 'Part load',
	onset: 'Onset of boost',
	low: 'Full throttle, low',
	middle: 'Full throttle, middle',
	top: 'Full throttle, top'
} as const;
export type Place = keyof typeof PLACES;

/** In the order in which an engine is driven through them. */
export const PLACE_ORDER = Object.keys(PLACES) as Place[];

const IDLE_RPM = 850;
/** Idle and cruise end at these shares of the air outside; full throttle begins this close to it. Own choices. */
const IDLE_LOAD = 0.6;
const CRUISE_LOAD = 0.6;
const FULL_BELOW_KPA = 10;
const BOOST_ABOVE_KPA = 20;
const IDLE_SPEED = 1.5;
/** Low and middle end at these shares of the rev limit. */
const LOW = 0.45;
const MIDDLE = 0.75;

/** @param loadKpa absolute manifold pressure */
export function placeOf(rpm: number, loadKpa: number, { engine }: Vehicle, baroKpa: number): Place {
	if (loadKpa < baroKpa * IDLE_LOAD && rpm <= (engine.idleRpm ?? IDLE_RPM) * IDLE_SPEED) return 'idle';
	if (loadKpa < baroKpa * CRUISE_LOAD) return 'cruise';
	if (loadKpa < baroKpa - FULL_BELOW_KPA) return 'part';
	if (engine.aspiration !== 'na' && loadKpa < baroKpa + BOOST_ABOVE_KPA) return 'onset';
	const share = rpm / engine.revLimitRpm;
	return share < LOW ? 'low' : share < MIDDLE ? 'middle' : 'top';
}

const speedOf = (axis: AxisRef) => axisSource(axis) === 'rpm';

/** How to find the place of a cell of a table; `null` where its axes are not engine speed and pressure. */
export function placesIn(
	item: MapItem | CurveItem,
	vehicle: Vehicle,
	baroKpa: number
): ((cell: { x: number; y: number }) => Place) | null {
	if (item.kind !== 'map') return null;
	const swapped = speedOf(item.y);
	const [speed, load] = swapped ? [item.y, item.x] : [item.x, item.y];
	const toKpa = speedOf(speed) ? turner(load, { channel: 'map' }, baroKpa) : null;
	if (!toKpa) return null;
	return ({ x, y }) => placeOf(swapped ? y : x, toKpa(swapped ? x : y), vehicle, baroKpa);
}
