/**
 * What moved with the part is the part: a difference before, the same difference after something was swapped, moved or mended, and which
 * answer the two leave. The rule and its figures are our own, stated beside each; that parts are taken from side to side one after the other
 * until something moves is common practice.
 */
import { median } from '../stats/stats.ts';
import { BANDS, type Band } from '../evidence/cells/banks.ts';
import { prepare, type LogContext } from '../evidence/prepare.ts';
import { measuredEthanol, SAME_FUEL_POINTS } from '../evidence/ethanol.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Log } from '../logfile/log.ts';
import { betweenBanks, betweenCylinders, type Contrast } from './contrast.ts';
import type { Answer, Difference, InBand, Judged, SwapAnswer } from './answer.ts';
import type { Swap } from './document.ts';
import { LoopState } from './loop.ts';
import { cellMeans, commonAxes, commonPlaces, pooled, type Cells, type Pooled } from './pooled.ts';
import { judgeMoved, type MovedAnswer } from './moved-sensor.ts';
import { DAY_SE, FLOOR, LEAST_SE, SURE_SE, WITHIN_SE } from './rule.ts';
import { nextOf, whyOf } from './words.ts';

export interface LogOf {
	log: Log;
	context: LogContext;
}

const MOST_INTAKE_C = 10;

/** @param back the log after everything was put back as it was */
export function judgeSwap(swap: Swap, before: LogOf, after: LogOf, back?: LogOf): SwapAnswer | MovedAnswer {
	const ready = (l: LogOf, swapped: boolean) =>
		prepare(swapped && swap.labels === 'follow-sensor' ? sensorsRelabelled(l.log) : l.log, l.context);
	const inputs = [ready(before, false), ready(after, true), ...(back ? [ready(back, false)] : [])];
	const other = conditions(inputs);
	if (swap.kind === 'lambda-moved') return judgeMoved(swap, inputs[0]!, inputs[1]!, inputs[2] ?? null, other);
	if (other) return notComparable(other);
	if (swap.labels === 'follow-sensor' && new LoopState(inputs[1]!, 0).atWorkBeyondIdle)
		return notComparable(
			'the loop was closed while driving, and each bank was driven by the gas of the other: sensors that keep their harness are compared with the loop off, or at idle'
		);
	const contrasts = inputs.map((i) =>
		swap.kind === 'between-cylinders' ? betweenCylinders(i, swap.cylinders!) : betweenBanks(i)
	);
	const missing = contrasts.find((c): c is { missing: string } => 'missing' in c);
	if (missing) return notComparable(missing.missing);
	const axes = commonAxes(...inputs.map((i) => i.frame));
	const cells = contrasts.map((c, i) =>
		cellMeans(
			inputs[i]!,
			axes,
			(c as Exclude<Contrast, { missing: string }>).values,
			inputs[i]!.profile.bankCellSamples
		)
	);
	const bands = BANDS.flatMap((band) => inBand(band, cells));
	if (bands.length === 0)
		return notComparable('no cell was visited long enough both times: drive the same again, steadily');
	// The band that shows most of what is asked about; one that shows it surely before one that may only be noisy.
	const worst = bands.reduce((a, b) => {
		const sure = (x: InBand) => (differs(x.before) ? 1 : 0);
		const more = sure(b) - sure(a) || Math.abs(b.before.mean) - Math.abs(a.before.mean);
		return more > 0 ? b : a;
	});
	const judged = answerOf(swap, worst.before, worst.after, worst.back);
	return {
		...judged,
		before: differenceOf(worst.before),
		after: differenceOf(worst.after),
		cells: worst.places,
		band: worst.band,
		pulsePct: pulseOf(inputs[0]!),
		why: whyOf(swap, judged, worst),
		next: nextOf(swap, judged.answer, worst.before.mean)
	};
}

function inBand(band: Band, cells: readonly Cells[]): InBand[] {
	const places = commonPlaces(band, ...cells);
	if (places.length === 0) return [];
	const [before, after, back] = cells.map((c) => pooled(places.map((p) => c.means.get(p)!)));
	return [{ band, places: places.length, before: before!, after: after!, back: back ?? null }];
}

/** With a day's repeatability, which every log has anew. */
const ofDay = (...se: number[]) => Math.hypot(...se, DAY_SE * Math.sqrt(se.length));

/** There is a difference to follow: at least 4 %, and four standard errors. */
const differs = (p: Pooled) => Math.abs(Math.expm1(p.mean)) >= Math.max(FLOOR, LEAST_SE * ofDay(p.se));

const differenceOf = (p: Pooled): Difference => ({ pct: 100 * Math.expm1(p.mean), se: 100 * ofDay(p.se) });

/**
 * The answer from the differences before and after, as natural logarithms.
 *
 * Residuals: moved b + a, stayed b − a, gone a. An answer holds where its residual is within two standard errors of zero and those of the two
 * others are beyond three; where all three are beyond three, two parts do it.
 */
export function answerOf(swap: Pick<Swap, 'kind'>, b: Pooled, a: Pooled, back: Pooled | null = null): Judged {
	const plain = (answer: Answer): Judged => ({ answer, partPct: null, placePct: null });
	if (!differs(b)) return plain('undecided');
	// What was put back has to show again what was there before; else the day, not the part, made the difference.
	const again = back && beyond(b.mean - back.mean, ofDay(b.se, back.se));
	const whole = back ? ofMean(b, back) : b;
	const both = ofDay(whole.se, a.se);
	const residuals: [Answer, number, number][] = [
		['moved', whole.mean + a.mean, both],
		['stayed', whole.mean - a.mean, both],
		['gone', a.mean, ofDay(a.se)]
	];
	const possible = swap.kind === 'repair' ? residuals.slice(1) : residuals;
	const near = possible.filter(([, r, se]) => Math.abs(r) <= WITHIN_SE * se);
	const clear = (except: Answer | null) => possible.every(([n, r, se]) => n === except || beyond(r, se));
	const [only] = near;
	if (near.length === 1 && only && clear(only[0])) {
		if (only[0] !== 'gone' || swap.kind === 'repair' || !back)
			return back && again ? plain('undecided') : plain(only[0]);
		// Put back as it was: gone for good was a connector or a seat; there again, two equal halves.
		if (!again) return halves(whole, a);
		return Math.abs(back.mean) <= WITHIN_SE * ofDay(back.se) ? plain('gone') : plain('undecided');
	}
	if (swap.kind === 'repair' || again || near.length > 0 || !clear(null)) return plain('undecided');
	return halves(whole, a);
}

const beyond = (r: number, se: number) => Math.abs(r) > SURE_SE * se;

/** Part (b − a) / 2, place (a + b) / 2. */
const halves = (b: Pooled, a: Pooled): Judged => ({
	answer: 'two-parts',
	partPct: 100 * Math.expm1((b.mean - a.mean) / 2),
	placePct: 100 * Math.expm1((b.mean + a.mean) / 2)
});

/** Two logs of the same arrangement. */
function ofMean(p: Pooled, q: Pooled): Pooled {
	return { mean: (p.mean + q.mean) / 2, se: Math.hypot(p.se, q.se) / 2 };
}

function notComparable(why: string): SwapAnswer {
	return {
		answer: 'not-comparable',
		before: null,
		after: null,
		partPct: null,
		placePct: null,
		cells: 0,
		band: null,
		pulsePct: null,
		why: `Not comparable: ${why}.`,
		next: ['log again under the conditions of the log before']
	};
}

/** What makes the logs no match, in words; `null` when nothing does. */
function conditions(inputs: readonly Prepared[]): string | null {
	const spread = (all: number[]) => {
		const levels = all.filter(Number.isFinite);
		return levels.length > 1 ? Math.max(...levels) - Math.min(...levels) : 0;
	};
	const of = (id: string, samples: (i: Prepared) => number[] | Float32Array) =>
		spread(inputs.map((i) => (i.frame.has(id) ? median(samples(i)) : Number.NaN)));
	const ethanol = spread(
		inputs.map((i) => {
			const measured = measuredEthanol(i);
			return measured ? median(measured) : Number.NaN;
		})
	);
	if (ethanol > SAME_FUEL_POINTS)
		return `the fuel differs by ${Math.round(ethanol)} points of ethanol (at most ${SAME_FUEL_POINTS})`;
	const intake = of('iat', (i) => {
		const iat = i.frame.get('iat')!;
		const loaded: number[] = [];
		for (let k = 0; k < iat.length; k++) if (i.segments.flags[k]! & FLAG.loaded) loaded.push(iat[k]!);
		return loaded;
	});
	return intake > MOST_INTAKE_C
		? `the intake air under load differs by ${Math.round(intake)} °C (at most ${MOST_INTAKE_C})`
		: null;
}

/** The sensors kept their harness: what the file calls bank 1 hangs in bank 2. */
function sensorsRelabelled(log: Log): Log {
	const other: Record<string, string> = { 'lambda.b1': 'lambda.b2', 'lambda.b2': 'lambda.b1' };
	return { ...log, channels: log.channels.map((c) => ({ ...c, id: other[c.id] ?? c.id })) };
}

function pulseOf({ frame, segments }: Prepared): number | null {
	const one = frame.get('pw.b1');
	const two = frame.get('pw.b2');
	if (!one || !two) return null;
	const ratios: number[] = [];
	for (let i = 0; i < frame.length; i++)
		if (one[i]! > 0 && two[i]! > 0 && !(segments.flags[i]! & FLAG.fuelCut)) ratios.push(two[i]! / one[i]!);
	return ratios.length ? 100 * (median(ratios) - 1) : null;
}
