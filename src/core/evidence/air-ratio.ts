/** The two readings of the air that an engine takes in, where they can be compared: its meter, and the model beside it. */
import { slope } from '../stats/runs.ts';
import type { Prepared } from './prepared.ts';

/** Only steady driving is compared, at flows that a meter resolves. */
const STEADY_KPA_PER_S = 20;
const LEAST_FLOW_SHARE = 0.05;
/** The mixture confirms the reading that the fuel was computed from within this, percent. */
export const CONFIRMS_PCT = 4;

/**
 * Model over meter by sample, g/s over g/s; NaN where they can't be compared.
 * @returns `null` where one of both isn't logged
 */
export function modelOverMeter({ frame }: Pick<Prepared, 'frame'>): Float32Array | null {
	const [model, meter, map] = [frame.get('airflowModel'), frame.get('maf'), frame.get('map')];
	if (!model || !meter) return null;
	const least = LEAST_FLOW_SHARE * frame.bounds('maf')!.max;
	const rate = map ? slope(map, frame.timeS, 0.2) : null;
	return meter.map((flow, i) =>
		flow > least && !(rate && Math.abs(rate[i]!) >= STEADY_KPA_PER_S) ? model[i]! / flow : Number.NaN
	);
}
