/**
 * The required correction of the fuel: k = (believed lambda / target) × (1 + STFT) × (1 + LTFT) per sample and bank.
 * k = 1.05 means that the engine wanted 5 % more fuel than the table gave it, whether the trims had already added it or not.
 */
import { FLAG, UNUSABLE } from '../segments/kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Segments } from '../segments/segments.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import { along } from '../../calibration/along.ts';
import type { Calibration } from '../../calibration/document.ts';
import { near, type Believed } from './believed.ts';

export interface Target {
	/** Target lambda per sample, NaN where unknown. */
	values: Float32Array | null;
	from: 'channel' | 'table' | 'none';
}

/** Lambda target: the logged channel, else the table of the revision that the log was made with. */
export function lambdaTarget(frame: Frame, calibration: Calibration | null, baroKpa: number): Target {
	const logged = frame.get('lambda.target');
	if (logged) return { values: logged, from: 'channel' };
	const table = calibration ? along(frame, calibration, 'lambda.target', baroKpa) : null;
	return table ? { values: table, from: 'table' } : { values: null, from: 'none' };
}

export interface Required {
	/** k per sample for each bank, NaN where a part is missing. */
	banks: (Float32Array | null)[];
	/** The learned trim can't be trusted at full load and is too big to ignore: loaded samples don't decide anything. */
	loadedUncertain: boolean[];
}

const LEARNED_MATTERS_PCT = 2;

/** Whether a controller adds a learned trim to its fuel at this moment; where nobody said, it counts. */
export function learnedActs(
	rule: NonNullable<Vehicle['controller']>['learnedTrimAtFullLoad'],
	isLoaded: boolean,
	trimPct: number
): boolean {
	return !isLoaded || rule === undefined || rule === 'applied' || (rule === 'positive-only' && trimPct > 0);
}

/** Pegged readings are no measurement: a wideband's usual ends. */
const LAMBDA_LOW = 0.55;
const LAMBDA_HIGH = 1.8;

export function requiredCorrection(
	frame: Frame,
	segments: Segments,
	believed: Believed,
	target: Target,
	vehicle: Vehicle
): Required {
	const rule = vehicle.controller?.learnedTrimAtFullLoad;
	const moving = near(segments.flags, FLAG.transient, frame.timeS, believed.lagS);
	const loadedUncertain: boolean[] = [];
	const banks = believed.banks.map((lambda, b) => {
		loadedUncertain[b] = false;
		if (!lambda || !target.values) return null;
		const loop = loopOf(b, frame, believed);
		const stft = frame.get(`stft.b${loop}`);
		const ltft = frame.get(`ltft.b${loop}`);
		// A bank whose own trims aren't logged says nothing while the loop is closed, which the other bank's trims tell.
		const closedS = stft ? null : frame.get(`stft.b${2 - b}`);
		const closedL = ltft ? null : frame.get(`ltft.b${2 - b}`);
		const out = new Float32Array(frame.length);
		let large = 0;
		let loaded = 0;
		for (let i = 0; i < out.length; i++) {
			const l = lambda[i]!;
			const unknown = closedS?.[i] || (closedL && Math.abs(closedL[i]!) > LEARNED_MATTERS_PCT);
			if (moving[i] || unknown || !(l > LAMBDA_LOW && l < LAMBDA_HIGH)) {
				out[i] = Number.NaN;
				continue;
			}
			let k = l / target.values[i]!;
			if (stft) k *= 1 + (stft[i] === stft[i] ? stft[i]! : 0) / 100;
			if (ltft) {
				const trim = ltft[i] === ltft[i] ? ltft[i]! : 0;
				const isLoaded = (segments.flags[i]! & FLAG.loaded) !== 0;
				if (isLoaded) {
					loaded++;
					if (Math.abs(trim) > LEARNED_MATTERS_PCT) large++;
				}
				if (learnedActs(rule, isLoaded, trim)) k *= 1 + trim / 100;
			}
			out[i] = k;
		}
		loadedUncertain[b] = rule === undefined && large > loaded * 0.05 && large > 0;
		return out;
	});
	return { banks, loadedUncertain };
}

/**
 * Whose trims move a bank's fuel: its own. Trims stay with the injectors that they move, wherever a sensor sits; but a controller's only
 * sensor steers both banks, so that the one that was moved here brings the loop of its channel along.
 */
function loopOf(bank: number, frame: Frame, believed: Believed): number {
	const own = bank + 1;
	const other = 2 - bank;
	const moved = believed.sources[bank]?.some((s) => s.channel === `lambda.b${other}`);
	const only = !['lambda.b', 'stft.b', 'ltft.b'].some((id) => frame.has(`${id}${own}`));
	return moved && only ? other : own;
}

/** Whether sample `i` may be used to judge the fuel table. */
export function usable(segments: Segments, i: number): boolean {
	return (segments.flags[i]! & UNUSABLE) === 0;
}
