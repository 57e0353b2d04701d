/** Throttle: pedal → demand of the revision → opening, and whose limit it is where it closes. */
import { along } from '../calibration/along.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { fixed } from '../format.ts';
import { derived } from '../logfile/columns.ts';
import { binsOf, link, type Broken, type Line } from './line.ts';

const FLAT_PEDAL_PCT = 95;

export function throttleLine(input: Prepared): Line {
	const { frame, segments, calibration, vehicle, profile } = input;
	const pedal = frame.get('pedal');
	const bins = binsOf(input, (i) => !pedal || pedal[i]! >= FLAT_PEDAL_PCT);
	const open = vehicle.baselines?.fullThrottlePct ?? 100;
	const tps = frame.get('tps');
	const commanded = link(
		{ name: 'written', title: 'demand of the revision at this pedal', unit: '%' },
		bins,
		calibration ? along(frame, calibration, 'throttle.demand', segments.baroKpa) : null,
		{ missing: 'The calibration has no table of throttle demand.' }
	);
	const delivered = link(
		{ name: 'delivered', title: 'opening, of fully open', unit: '%' },
		bins,
		tps ? derived(tps, (v) => (100 * v) / open) : null,
		{ missing: 'The throttle isn’t logged.', asks: ['tps'] }
	);
	return {
		quantity: 'throttle',
		title: 'Throttle',
		axis: { title: 'Engine speed', unit: 'rpm', points: bins.points },
		links: [
			commanded,
			{
				...link({ name: 'commanded', title: 'pedal', unit: '%' }, bins, pedal, {
					missing: 'The pedal isn’t logged.',
					asks: ['pedal']
				}),
				against: 'nothing'
			},
			delivered,
			link({ name: 'measured', title: 'torque intervention', unit: '' }, bins, frame.get('torqueLimit'), {
				missing: 'No torque intervention is logged.',
				asks: ['torqueLimit', 'torqueSource']
			})
		],
		broken: brokenIn()
	};

	function brokenIn(): Broken | null {
		if (!pedal || delivered.missing) return null;
		const shut = bins.points.flatMap((p, i) => {
			const v = delivered.values[i];
			return v != null && v < profile.throttleOpenPct ? [{ v, at: p, i }] : [];
		});
		if (shut.length === 0) return null;
		const worst = shut.reduce((a, b) => (b.v < a.v ? b : a));
		const demand = commanded.values[worst.i];
		const place = `${fixed(worst.v, 0)} % at ${worst.at} rpm under a flat pedal`;
		const range = { from: shut[0]!.at, to: shut.at(-1)!.at };
		// What the demand table itself asks for is nobody's limit.
		if (demand != null && demand <= (worst.v * open) / 100 + 3)
			return {
				at: 'written',
				why: `The throttle opens to ${place}, and that is what the demand table of the revision says: raise it there if more is wanted.`,
				...range
			};
		const whose = limitedBy(input);
		return {
			at: 'delivered',
			why: `The throttle opens to ${place}: ${whose ? `limited by ${whose}` : 'whose limit it is isn’t logged (the source of the torque limit)'}.`,
			...range
		};
	}
}

/** What the log names as the source of the torque limit most often while loaded; null where it names nothing. */
function limitedBy({ log, segments, frame }: Prepared): string | null {
	const channel = log.channels.find((c) => c.id === 'torqueSource');
	if (!channel) return null;
	const count = new Map<string, number>();
	let at = 0;
	for (const run of segments.loaded) {
		const [from, to] = [frame.timeS[run.from]!, frame.timeS[run.to]!];
		while (at < channel.timeS.length && channel.timeS[at]! < from) at++;
		for (let i = at; i < channel.timeS.length && channel.timeS[i]! <= to; i++) {
			const text = channel.texts[channel.values[i]!] ?? '';
			if (text && !/^(none|no|off|0|-)$/i.test(text)) count.set(text, (count.get(text) ?? 0) + 1);
		}
	}
	return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}
