/** The stand-in drives: the log that its customer sends, and what the steps since the last one did to its engine. */
import { parseCalibration, type Calibration } from '$core/calibration/document.ts';
import { harmBetween, logOf, standingOf, type CarState } from '$core/practice/car.ts';
import type { CureId } from '$core/practice/cures.ts';
import { practisedHand } from '$core/practice/hand.ts';
import { levelOf, sceneOf } from '$core/practice/levels.ts';
import { task, type Place } from './task.ts';

/** A car as it was driven. */
export interface Driven {
	cures: CureId[];
	/** Without one its base is in it. */
	calibration: Calibration | null;
}

export interface PracticeTask extends Place {
	level: number;
	seed: number;
	/** As it was driven last; `null` before the first log. */
	before: Driven | null;
	now: Driven;
}

const carOf = (level: number, seed: number, { cures, calibration }: Driven): CarState => {
	const scene = sceneOf(levelOf(level)!, seed);
	return {
		scene,
		seed,
		cures,
		calibration: calibration ? parseCalibration(calibration) : scene.base,
		released: calibration !== null
	};
};

/** @param round counted from 1 */
export const practiceDrive = task(
	async ({ level, seed, before, now, round }: PracticeTask & { round: number }) => {
		const car = carOf(level, seed, now);
		const { harm } = before ? harmBetween(carOf(level, seed, before), car) : { harm: [] };
		return { text: logOf(car, round), harm };
	}
);

export const practiceEnd = task(async ({ level, seed, before, now }: PracticeTask) => {
	const car = carOf(level, seed, now);
	const done = before
		? harmBetween(carOf(level, seed, before), car)
		: { harm: [], standing: standingOf(car) };
	return { ...done, hand: practisedHand(car.scene, seed) };
});
