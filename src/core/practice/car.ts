/** The car of a practice job as it stands: what was mended, what is in it, the log that it makes, and how its engine truly fares. */
import type { Calibration } from '../calibration/document.ts';
import { driveLog } from '../simulator/drive-log.ts';
import type { Faults } from '../simulator/faults.ts';
import { hurtPlaces, truthUnderLoad, type HurtPlace, type Truths } from '../simulator/truth-under-load.ts';
import { without, type CureId } from './cures.ts';
import { loadedTiming, type Scene } from './levels.ts';

/** Won when no place under load is leaner than this, percent, and the mean of all is nearer than that; knock, °; timing kept within. Own choices. */
const LEANEST_PCT = 3;
const MEAN_PCT = 3;
const KNOCK_DEG = 1;
const TIMING_DEG = 1;

export interface CarState {
	scene: Scene;
	seed: number;
	/** What was asked for and done. */
	cures: readonly CureId[];
	/** The newest file that was released; the base before one was. */
	calibration: Calibration;
	released: boolean;
}

export const faultsOf = ({ scene, cures }: Pick<CarState, 'scene' | 'cures'>): Faults =>
	without(scene.faults, cures);

/** What the car really runs: the wrong file until it is flashed again, or a new one is. */
export function inCar({ scene, cures, calibration, released }: CarState): Calibration {
	return scene.other && !released && !cures.includes('file-flashed') ? scene.other : calibration;
}

/** @param round counted from 1: each drive is another day's */
export const logOf = (car: CarState, round: number): string =>
	driveLog(car.scene.vehicle, inCar(car), faultsOf(car), car.seed * 100 + round, {
		monitor: car.scene.monitor
	});

export interface Standing {
	leanestPct: number;
	meanPct: number;
	knockDeg: number;
	/** What still stands between here and the end, in words; empty when it is won. */
	left: string[];
}

export const truthOf = (car: CarState): Truths =>
	truthUnderLoad({ vehicle: car.scene.vehicle, faults: faultsOf(car), seed: car.seed }, inCar(car));

/** How the engine truly fares, which no log tells. */
export function standingOf(car: CarState, truths: Truths = truthOf(car)): Standing {
	const places = [...truths.values()];
	const leanestPct = Math.max(...places.map((p) => p.pct));
	const meanPct = places.reduce((s, p) => s + Math.abs(p.pct), 0) / Math.max(1, places.length);
	const knockDeg = Math.max(...places.map((p) => p.knock));
	const { timingDeg, cures } = car.scene;
	const left = [
		...(cures.every((c) => car.cures.includes(c)) ? [] : ['what is wrong with the car is still there']),
		...(leanestPct <= LEANEST_PCT ? [] : ['a place under load is still lean']),
		...(meanPct <= MEAN_PCT ? [] : ['the mixture is still off its target']),
		...(knockDeg <= KNOCK_DEG ? [] : ['it still knocks']),
		...(timingDeg === null || loadedTiming(car.calibration) >= timingDeg - TIMING_DEG
			? []
			: ['timing was taken out that nothing asked for'])
	];
	return { leanestPct, meanPct, knockDeg, left };
}

/** What a step did to the engine by its hidden truth, the worst place first. */
export function harmBetween(before: CarState, after: CarState): { harm: HurtPlace[]; standing: Standing } {
	const now = truthOf(after);
	return { harm: hurtPlaces(truthOf(before), now), standing: standingOf(after, now) };
}
