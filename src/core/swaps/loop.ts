/** What the closed loop of a bank adds, where a test looks at one gas path by itself. */
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Prepared } from '../evidence/prepared.ts';

/** A correction smaller than this is a loop that stands still. */
const STILL_PCT = 0.5;
/** A loop that is at work for less of the time is a blip at the edge of another state. */
const AT_WORK_SHARE = 0.05;

/** Below this the starter turns the engine. */
const TURNING_RPM = 300;

/** Closed-loop and learned trim of a bank; of the other one where only that is logged: a controller with one sensor treats both alike. */
export class LoopState {
	private readonly stft: Float32Array | null;
	private readonly ltft: Float32Array | null;
	constructor(
		private readonly input: Prepared,
		bank: number
	) {
		const { frame } = input;
		this.stft = frame.first(`stft.b${bank + 1}`, `stft.b${2 - bank}`);
		this.ltft = frame.first(`ltft.b${bank + 1}`, `ltft.b${2 - bank}`);
	}

	/** Factor on the fuel of the table at a sample. */
	factor(i: number): number {
		const { segments, vehicle } = this.input;
		const s = this.stft ? this.stft[i]! : 0;
		let l = this.ltft ? this.ltft[i]! : 0;
		const rule = vehicle.controller?.learnedTrimAtFullLoad ?? 'applied';
		const loaded = (segments.flags[i]! & FLAG.loaded) !== 0;
		if (loaded && (rule === 'ignored' || (rule === 'positive-only' && l < 0))) l = 0;
		return (1 + (s === s ? s : 0) / 100) * (1 + (l === l ? l : 0) / 100);
	}

	/** The loop corrects while the engine drives, not only at idle. */
	get atWorkBeyondIdle(): boolean {
		const { stft } = this;
		if (!stft) return false;
		const { segments, frame } = this.input;
		const rpm = frame.get('rpm');
		let beyond = 0;
		let working = 0;
		for (let i = 0; i < frame.length; i++) {
			if (segments.flags[i]! & FLAG.idle || (rpm && !(rpm[i]! > TURNING_RPM))) continue;
			beyond++;
			if (Math.abs(stft[i]!) > STILL_PCT) working++;
		}
		return working > beyond * AT_WORK_SHARE && working > 0;
	}
}
