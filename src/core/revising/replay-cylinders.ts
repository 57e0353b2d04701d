/** Replay cylinder by cylinder: how far each would be from its target under load with another revision, table and own trim together. */
import { derived } from '../logfile/columns.ts';
import { cylinderTrims, trimAlong } from '../calibration/cylinder-trims.ts';
import type { Calibration } from '../calibration/document.ts';
import { placesUnderLoad } from '../evidence/cells/under-load.ts';
import { aligned } from '../evidence/lambda/lag.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { fixed } from '../format.ts';
import type { Predicted } from './predict.ts';
import type { Replay } from './replay-schema.ts';

/** Factor of a cylinder's own trim over the mean that the fuel of the engine counts with. */
function shareOf(input: Prepared, c: Calibration, cylinder: number): (sample: number) => number {
	const trims = cylinderTrims(c, 'fuel.cylTrim');
	if (!trims) return () => 1;
	const { frame, segments } = input;
	const own = trimAlong(trims, frame, segments.baroKpa, cylinder);
	const mean = trimAlong(trims, frame, segments.baroKpa);
	return (i) => (1 + own(i) / 100) / (1 + mean(i) / 100);
}

/**
 * Places (500 rpm under load) of each cylinder whose lambda was logged, percent leaner than the target of its revision, before and after.
 * @returns empty where no lambda by cylinder was logged
 */
export function replayCylinders(
	input: Prepared,
	p: Predicted,
	now: Calibration,
	next: Calibration
): NonNullable<Replay['cylinders']> {
	const { frame, believed, vehicle } = input;
	const pct = (v: number) => Number(fixed(100 * v, 2));
	return Array.from({ length: vehicle.engine.cylinders }, (_, k) => k + 1).flatMap((cylinder) => {
		const raw = frame.get(`lambda.cyl${cylinder}`);
		if (!raw) return [];
		const lambda = aligned(raw, frame.timeS, believed.lagS);
		const [had, gets] = [shareOf(input, now, cylinder), shareOf(input, next, cylinder)];
		const before = derived(lambda, (l, i) => (l > 0 ? l / p.targetBefore[i]! - 1 : Number.NaN));
		const after = derived(lambda, (l, i) =>
			l > 0 ? (l * had(i)) / (p.fuelRatio[i]! * gets(i)) / p.targetAfter[i]! - 1 : Number.NaN
		);
		const later = placesUnderLoad(input, after);
		return {
			cylinder,
			places: placesUnderLoad(input, before).flatMap((b) => {
				const a = later.find((l) => l.rpm[0] === b.rpm[0]);
				return a ? [{ rpm: b.rpm, before: pct(b.mean), after: pct(a.mean) }] : [];
			})
		};
	});
}
