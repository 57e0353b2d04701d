/** How warm it was outside: logged, stated for the day, or told by an engine that was cold. */
import type { Prepared } from './prepared.ts';

/** An engine whose coolant is as warm as its intake air stood long enough: both are as warm as the air outside. */
const COLD_WITHIN_C = 5;
const COLD_BELOW_C = 30;

export type AmbientFrom = 'logged' | 'stated' | 'cold start';

type Input = Pick<Prepared, 'frame' | 'statedAmbientC'>;

/** The air outside, °C, and how it is known; `null` where nothing tells: the coolest intake air of a log that began hot doesn't. */
export function knownAmbient({
	frame,
	statedAmbientC
}: Input): { ambientC: number; from: AmbientFrom } | null {
	const logged = frame.bounds('ambientTemp')?.min;
	if (logged !== undefined && Number.isFinite(logged)) return { ambientC: logged, from: 'logged' };
	if (statedAmbientC !== null) return { ambientC: statedAmbientC, from: 'stated' };
	const first = (id: string) => frame.get(id)?.find((v) => v === v);
	const [air, coolant] = [first('iat'), first('ect')];
	return air !== undefined &&
		coolant !== undefined &&
		coolant < COLD_BELOW_C &&
		Math.abs(coolant - air) <= COLD_WITHIN_C
		? { ambientC: air, from: 'cold start' }
		: null;
}

/** The same for a projection, which has to begin somewhere: the coolest intake air where nobody knows better; NaN without any. */
export const ambientOf = (input: Input): number =>
	knownAmbient(input)?.ambientC ?? input.frame.bounds('iat')?.min ?? Number.NaN;
