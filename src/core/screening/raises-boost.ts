/** Whether the revision that a log was made with asks for more boost than the first of the job. */
import { findItem } from '../calibration/lookup.ts';
import type { Prepared } from '../evidence/prepared.ts';

/** Highest boost that a calibration asks for; NaN when it says nothing of boost. */
function boostOf(calibration: Prepared['calibration']): number {
	const item = calibration && findItem(calibration, 'boost.target');
	if (!item || (item.kind !== 'map' && item.kind !== 'curve')) return Number.NaN;
	return Math.max(...(item.values as (number | number[])[]).flat());
}

/** By more than a kilopascal, which is rounding. */
export const raisesBoost = ({ calibration, calibrations }: Prepared): boolean =>
	boostOf(calibration) > boostOf(calibrations[0] ?? null) + 1;
