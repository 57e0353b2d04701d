/** One sensor that was moved to the other bank: the only way to see a bank that has none of its own. */
import { derived } from '../logfile/columns.ts';
import { fixed, signed } from '../format.ts';
import { BANDS, type Band } from '../evidence/cells/banks.ts';
import { loadBands } from '../evidence/cells/load-bands.ts';
import { aligned } from '../evidence/lambda/lag.ts';
import { usable } from '../evidence/lambda/required.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { Swap } from './document.ts';
import { LoopState } from './loop.ts';
import { cellMeans, commonAxes, commonPlaces, pooled, type Cells, type Pooled } from './pooled.ts';
import { DAY_SE, FLOOR, FLOOR_WITHOUT_DAY, SURE_SE, WITHIN_SE } from './rule.ts';

export interface MovedAnswer {
	answer: 'measured' | 'undecided' | 'not-comparable';
	/** 100 × (bank 2 / bank 1 − 1) in the band of load where it is largest. */
	bank2AgainstBank1: { pct: number; se: number; worstBand: Band } | null;
	cells: number;
	/** Highest engine speed and load that both logs visited: up to there the unseen bank has been seen. */
	seenTo: { rpm: number; mapKpa: number | null } | null;
	why: string;
	next: string[];
}

/** An instrument is what is carried from bank to bank; the controller's own sensor only where there is no other. */
export const CARRIED = ['lambda.ref', 'lambda.ref2', 'lambda.dyno'];
export const OWN = ['lambda.b1', 'lambda.b2'];

/** The channel that was moved in each log, and one that stayed where it was. */
function channelsOf(inputs: readonly Prepared[]): { moved: string[]; stayed: string | null } | null {
	const all = (id: string) => inputs.every((i) => i.frame.has(id));
	const carried = CARRIED.find(all);
	if (carried) return { moved: inputs.map(() => carried), stayed: OWN.find(all) ?? null };
	const own = inputs.map((i) => OWN.filter((id) => i.frame.has(id)));
	return own.every((o) => o.length === 1) ? { moved: own.map((o) => o[0]!), stayed: null } : null;
}

/** ln(k) as one channel sees it at its bank. */
function levelOf(input: Prepared, channel: string, bank: number): Float32Array | null {
	const { frame, believed, target, segments } = input;
	if (!target.values) return null;
	const lambda = aligned(frame.get(channel)!, frame.timeS, believed.lagS);
	const loop = new LoopState(input, bank);
	return derived(lambda, (l, i) =>
		l > LOW && l < HIGH && usable(segments, i) && !believed.hidden[i]
			? Math.log((l / target.values![i]!) * loop.factor(i))
			: Number.NaN
	);
}
/** Pegged readings are no measurement. */
const LOW = 0.55;
const HIGH = 1.8;

export function judgeMoved(
	swap: Swap,
	before: Prepared,
	after: Prepared,
	back: Prepared | null,
	otherConditions: string | null
): MovedAnswer {
	const inputs = [before, after, ...(back ? [back] : [])];
	if (otherConditions) return notComparable(otherConditions);
	if (JSON.stringify(before.calibration?.items) !== JSON.stringify(after.calibration?.items))
		return notComparable('the two logs were made with different revisions: bank against bank needs one');
	const channels = channelsOf(inputs);
	if (!channels) return notComparable('no sensor is in both logs that could have been moved');
	const first = swap.from === 'bank2' ? 1 : 0;
	const at = (n: number) => (n === 1 ? 1 - first : first);
	const levels = inputs.map((i, n) => levelOf(i, channels.moved[n]!, at(n)));
	if (levels.some((l) => l === null)) return notComparable('the lambda target is not known');
	const axes = commonAxes(...inputs.map((i) => i.frame));
	const cells = levels.map((l, n) => cellMeans(inputs[n]!, axes, l!, inputs[n]!.profile.bankCellSamples));
	const fixedCells = channels.stayed
		? inputs.map((i) =>
				cellMeans(
					i,
					axes,
					levelOf(i, channels.stayed!, OWN.indexOf(channels.stayed!))!,
					i.profile.bankCellSamples
				)
			)
		: null;
	const bands = BANDS.flatMap((band) => inBand(band, cells, fixedCells, first === 0 ? 1 : -1));
	if (bands.length === 0)
		return notComparable('no cell was visited long enough both times: drive the same again, steadily');
	const worst = bands.reduce((a, b) => (Math.abs(b.mean) > Math.abs(a.mean) ? b : a));
	const sure = back !== null || fixedCells !== null;
	const floor = sure ? FLOOR_WITHOUT_DAY : FLOOR;
	const size = Math.abs(Math.expm1(worst.mean));
	const measured = size >= floor && Math.abs(worst.mean) > SURE_SE * worst.se;
	const pct = 100 * Math.expm1(worst.mean);
	const se = 100 * worst.se;
	const steers = channels.moved.every((c) => OWN.includes(c)) && new LoopState(after, 0).atWorkBeyondIdle;
	const leaner = pct > 0 ? 2 : 1;
	return {
		answer: measured ? 'measured' : 'undecided',
		bank2AgainstBank1: { pct, se, worstBand: worst.band },
		cells: worst.places.length,
		seenTo: seenTo(
			inputs,
			levels as Float32Array[],
			bands.map((b) => b.band)
		),
		why: `${
			measured
				? `Bank ${leaner} wants ${fixed(Math.abs(pct), 1)} ± ${fixed(WITHIN_SE * se, 1)} % more fuel than bank ${3 - leaner}, most in the ${worst.band} band.`
				: `No difference larger than ${signed(pct)} ± ${fixed(WITHIN_SE * se, 1)} %: under ${fixed(100 * floor, 0)} % a day's repeatability is as large.`
		}${steers ? ' The sensor that was moved steers the loop: the other bank followed it.' : ''}`,
		next: measured
			? [
					`swap the injectors from side to side: bank ${leaner} is the leaner one`,
					'no boost is raised until the banks agree'
				]
			: sure
				? ['the banks agree as far as this can be seen: go on, and look again at more load']
				: ['put the sensor back on the first bank and log once more: that takes the day out, down to 2 %']
	};
}

interface InBand extends Pooled {
	band: Band;
	places: number[];
}

/** @param sign −1 where the sensor went from bank 2 to bank 1 */
function inBand(
	band: Band,
	cells: readonly Cells[],
	stayed: readonly Cells[] | null,
	sign: number
): InBand[] {
	const places = commonPlaces(band, ...cells, ...(stayed ?? []));
	if (places.length === 0) return [];
	const [before, after, back] = cells;
	const differences = places.map((p) => {
		const at = (c: Cells) => c.means.get(p)!;
		const own = back
			? {
					mean: at(after!).mean - (at(before!).mean + at(back).mean) / 2,
					variance: at(after!).variance + (at(before!).variance + at(back).variance) / 4
				}
			: { mean: at(after!).mean - at(before!).mean, variance: at(after!).variance + at(before!).variance };
		if (!stayed) return own;
		// What the day did is what the sensor that stayed shows of it.
		const day = at(stayed[1]!).mean - at(stayed[0]!).mean;
		return {
			mean: own.mean - (back ? 0 : day),
			variance: own.variance + (back ? 0 : at(stayed[1]!).variance + at(stayed[0]!).variance)
		};
	});
	const together = pooled(differences);
	const ofDay = stayed ? 0 : back ? DAY_SE * Math.sqrt(1.5) : DAY_SE * Math.SQRT2;
	return [
		{
			band,
			places,
			mean: sign * together.mean,
			se: Math.hypot(together.se, ofDay)
		}
	];
}

/** What the least of the logs reached in the bands that were compared. */
function seenTo(
	inputs: readonly Prepared[],
	levels: readonly Float32Array[],
	bands: readonly Band[]
): MovedAnswer['seenTo'] {
	const reached = inputs.map(({ frame, segments }, n) => {
		const rpm = frame.get('rpm');
		const map = frame.get('map');
		const band = loadBands({ frame, segments });
		const top = { rpm: 0, map: 0 };
		for (let i = 0; i < frame.length; i++) {
			if (levels[n]![i] !== levels[n]![i] || !bands.includes(BANDS[band[i]!]!)) continue;
			if (rpm && rpm[i]! > top.rpm) top.rpm = rpm[i]!;
			if (map && map[i]! > top.map) top.map = map[i]!;
		}
		return top;
	});
	const mapKpa = Math.min(...reached.map((r) => r.map));
	return { rpm: Math.min(...reached.map((r) => r.rpm)), mapKpa: mapKpa > 0 ? mapKpa : null };
}

function notComparable(why: string): MovedAnswer {
	return {
		answer: 'not-comparable',
		bank2AgainstBank1: null,
		cells: 0,
		seenTo: null,
		why: `Not comparable: ${why}.`,
		next: ['log again under the conditions of the log before']
	};
}
