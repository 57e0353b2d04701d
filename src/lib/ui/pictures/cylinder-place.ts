/** What a cylinder looks like in the picture of the engine: its figures as lines, and the worst that they say of it. */
import { fixed } from '$core/format';
import type { Profile } from '$core/limits/profile';
import type { PlugReading } from '$core/plugs/document';
import { signedText } from '../cellmap/colour';

export interface CylinderPlace {
	cylinder: number;
	/** Leaner (+) or richer (−) than its peers, percent. */
	lambdaPct: number | null;
	reading: PlugReading | null;
	state: 'stop' | 'fix' | 'watch' | null;
	lines: { name: string; value: string; out?: boolean }[];
}

/** What is known of a cylinder; `null` for what isn't. */
export interface CylinderFigures {
	cylinder: number;
	lambdaPct: number | null;
	/** Engine speed at which it is that far off. */
	atRpm?: number | null;
	knockDeg: number | null;
	misfires: number | null;
	egtC: number | null;
	trimPct: number | null;
}

/** Marks of a plug that say fuel or ignition, not that something broke. */
const MENDABLE: readonly string[] = ['wet', 'sooty'];

/** A lean cylinder can be hurt, a rich one is only worth a look. */
function stateOf(
	{ lambdaPct, knockDeg, misfires }: CylinderFigures,
	reading: PlugReading | null,
	limits: Profile
): CylinderPlace['state'] {
	const [lean, knock] = [lambdaPct ?? 0, knockDeg ?? 0];
	const broken = reading?.flags?.some((f) => !MENDABLE.includes(f)) ?? false;
	if (broken || lean >= limits.cylLambdaStopPct) return 'stop';
	if (lean >= limits.cylLambdaFixPct || knock >= limits.cylKnockFixDeg || (misfires ?? 0) > 0) return 'fix';
	return Math.abs(lean) >= limits.cylLambdaWatchPct || knock >= limits.cylKnockWatchDeg ? 'watch' : null;
}

/** @param temperature a temperature in the reader's unit */
export function cylinderPlace(
	figures: CylinderFigures,
	reading: PlugReading | null,
	limits: Profile,
	temperature: (c: number) => string
): CylinderPlace {
	const { cylinder, lambdaPct, atRpm, knockDeg, misfires, egtC, trimPct } = figures;
	return {
		cylinder,
		lambdaPct,
		reading,
		state: stateOf(figures, reading, limits),
		lines: [
			...(atRpm == null ? [] : [{ name: 'leanest at', value: `${atRpm} rpm` }]),
			...(knockDeg === null
				? []
				: [{ name: 'knock', value: `${fixed(knockDeg, 1)}°`, out: knockDeg >= limits.cylKnockWatchDeg }]),
			...(misfires === null ? [] : [{ name: 'misfires', value: String(misfires), out: misfires > 0 }]),
			...(egtC === null ? [] : [{ name: 'exhaust', value: temperature(egtC) }]),
			...(trimPct === null ? [] : [{ name: 'trim', value: `${signedText(trimPct)} %` }])
		]
	};
}
