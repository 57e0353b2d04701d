/** Fuel: target of the revision → target that the controller ran → pulse against the table → mixture. */
import { along } from '../calibration/along.ts';
import { deadTimeAlong, fuelAlong } from '../calibration/fuel-along.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { fixed, marked, signed } from '../format.ts';
import { derived } from '../logfile/columns.ts';
import { median } from '../stats/stats.ts';
import { apart, binsOf, link, mediansIn, type Bins, type Broken, type Line } from './line.ts';

/** Own choices: a target is written with two decimals, a pulse rounded by its logger, a mixture right within three percent. */
const TARGET_WITHIN = 0.015;
const PULSE_WITHIN_PCT = 5;
const MIXTURE_WITHIN_PCT = 3;
const LEARNED_PCT = 5;
/** A shorter pulse than this says nothing of dead time against fuel, ms. */
const SHORTEST_MS = 0.2;

export function fuelLine(input: Prepared): Line {
	const { frame, segments, calibration, believed, target } = input;
	const bins = binsOf(input);
	const own = calibration ? along(frame, calibration, 'lambda.target', segments.baroKpa) : null;
	const written = link({ name: 'written', title: 'target of the revision', unit: 'λ' }, bins, own, {
		missing: 'The calibration has no lambda target, or what it is read by isn’t logged.'
	});
	const commanded = link(
		{ name: 'commanded', title: 'target in the log', unit: 'λ' },
		bins,
		frame.get('lambda.target'),
		{ missing: 'The lambda target isn’t logged.', asks: ['lambda.target'] }
	);
	const pulse = pulseOf(input, bins);
	const lambda = leanest(input) ?? believed.banks.find((b) => b !== null) ?? null;
	const measured = link(
		{
			name: 'measured',
			title: believed.banks.length > 1 ? 'mixture, leanest bank' : 'mixture',
			unit: 'λ'
		},
		bins,
		lambda,
		{ missing: 'No sensor that is believed measured the mixture under load.', asks: ['lambda.ref'] }
	);
	return {
		quantity: 'fuel',
		title: 'Fuel',
		axis: { title: 'Engine speed', unit: 'rpm', points: bins.points },
		links: [
			written,
			commanded,
			{
				name: 'delivered',
				title: 'pulse against the table',
				unit: '%',
				values: pulse.values,
				missing: pulse.missing,
				...(pulse.asks ? { asks: pulse.asks } : {}),
				against: 'itself'
			},
			measured
		],
		broken: brokenIn()
	};

	function brokenIn(): Broken | null {
		const asked = apart(bins, own, frame.get('lambda.target'), TARGET_WITHIN);
		const at = asked ? bins.points.indexOf(asked.at) : -1;
		if (asked)
			return {
				at: 'commanded',
				why: `The controller ran ${marked(commanded.values[at]!, 'λ', 3)} where the revision says ${marked(written.values[at]!, 'λ', 3)}: another file, or a protection that enriches.`,
				from: asked.from,
				to: asked.to
			};
		const learned = learnedOf(input);
		if (Math.abs(learned) > LEARNED_PCT)
			return {
				at: 'delivered',
				why: `${signed(learned)} % of learned trim is carried under load: it was not reset, or the table needs it.`
			};
		const off = pulse.values.flatMap((v, i) =>
			v !== null && Math.abs(v) > PULSE_WITHIN_PCT ? [{ v, at: bins.points[i]! }] : []
		);
		if (off.length) {
			const worst = off.reduce((a, b) => (Math.abs(b.v) > Math.abs(a.v) ? b : a));
			return {
				at: 'delivered',
				why: `The pulse leaves the table by ${signed(worst.v)} % at ${fixed(worst.at, 0)} rpm, against the rest of the load: an enrichment, a protection or another file.`,
				from: off[0]!.at,
				to: off.at(-1)!.at
			};
		}
		const goal = target.values;
		const error =
			goal && lambda
				? mediansIn(
						bins,
						derived(lambda, (l, i) => 100 * (l / goal[i]! - 1))
					)
				: [];
		const wrong = error.flatMap((v, i) =>
			v !== null && Math.abs(v) > MIXTURE_WITHIN_PCT ? [{ v, at: bins.points[i]! }] : []
		);
		if (!wrong.length) return null;
		const worst = wrong.reduce((a, b) => (Math.abs(b.v) > Math.abs(a.v) ? b : a));
		return {
			at: 'measured',
			why: `The mixture is off its target by ${signed(worst.v)} % at ${fixed(worst.at, 0)} rpm${pulse.missing === null ? ', while the pulse follows the table: the table is wrong there, or the fuel doesn’t come (pressure, injector)' : ''}.`,
			from: wrong[0]!.at,
			to: wrong.at(-1)!.at
		};
	}
}

/** The leaner of the banks by sample; null with one bank. */
function leanest({ believed, frame }: Prepared): Float32Array | null {
	const banks = believed.banks.flatMap((b) => b ?? []);
	if (banks.length < 2) return null;
	const out = new Float32Array(frame.length);
	for (let i = 0; i < out.length; i++) {
		const [a, b] = [banks[0]![i]!, banks[1]![i]!];
		out[i] = b > a || a !== a ? b : a;
	}
	return out;
}

/** Learned trim under load of the bank that carries the most, percent; NaN where none is logged. */
function learnedOf({ frame, segments }: Prepared): number {
	let most = Number.NaN;
	for (const id of ['ltft.b1', 'ltft.b2']) {
		const v = frame.get(id);
		if (!v) continue;
		const seen: number[] = [];
		for (const run of segments.loaded) for (let i = run.from; i <= run.to; i++) seen.push(v[i]!);
		const m = median(seen);
		if (!(Math.abs(m) <= Math.abs(most))) most = m;
	}
	return most;
}

/**
 * How the pulse without dead time and trims goes along with the table: percent from its own middle by bin. Only its shape is judged; the
 * level hangs on injector data that a log doesn't have.
 */
function pulseOf(
	input: Prepared,
	bins: Bins
): { values: (number | null)[]; missing: string | null; asks?: readonly string[] } {
	const { frame, segments, calibration, vehicle } = input;
	const none = (missing: string) => ({ values: bins.points.map(() => null), missing });
	const pw = frame.first('pw.b1', 'pw.b2');
	if (!pw) return { ...none('The pulse width isn’t logged.'), asks: ['pw.b1'] };
	const fuel = calibration ? fuelAlong(frame, calibration, segments.baroKpa) : null;
	if (!fuel) return none('The fuel table isn’t there, or what it is read by isn’t logged.');
	const stft = frame.get('stft.b1');
	const ltft = frame.get('ltft.b1');
	const dead = deadTimeAlong(frame, calibration!, vehicle.injectors?.deadTimeMs ?? [], segments.baroKpa);
	// A computed pulse follows the air: in a model by pressure also the manifold and its temperature.
	const [map, iat, rpm] = [frame.get('map'), frame.get('iat'), frame.get('rpm')];
	const air =
		calibration!.fuelModel === 'speed-density'
			? (i: number) => (map?.[i] ?? 1) / (273.15 + (iat?.[i] ?? 20))
			: calibration!.fuelModel === 'maf'
				? (i: number) => 1 / (rpm?.[i] ?? 1)
				: () => 1;
	const share = derived(pw, (v, i) => {
		const open = v - dead[i]!;
		if (!(open > SHORTEST_MS)) return Number.NaN;
		const trims = (1 + (stft?.[i] ?? 0) / 100) * (1 + (ltft?.[i] ?? 0) / 100);
		return open / (fuel[i]! * air(i) * trims);
	});
	const by = mediansIn(bins, share);
	const middle = median(by.flatMap((v) => v ?? []));
	if (!Number.isFinite(middle) || by.filter((v) => v !== null).length < 2)
		return none('Too little full load to see the shape of the pulse by.');
	return { values: by.map((v) => (v === null ? null : 100 * (v / middle - 1))), missing: null };
}
