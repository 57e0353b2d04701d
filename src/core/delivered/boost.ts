/** Boost: target of the revision → set point → wastegate → manifold. */
import { along } from '../calibration/along.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { marked, markedBy } from '../format.ts';
import { apart, binsOf, link, type Broken, type Line } from './line.ts';

/** Own choices. The measured pressure is judged by the limits of the profile. */
const TARGET_WITHIN_KPA = 5;
const AT_ITS_END_PCT = 95;

export function boostLine(input: Prepared): Line | null {
	const { frame, segments, calibration, vehicle, profile } = input;
	if (vehicle.engine.aspiration === 'na') return null;
	const bins = binsOf(input);
	const target = calibration ? along(frame, calibration, 'boost.target', segments.baroKpa) : null;
	const written = link({ name: 'written', title: 'target of the revision', unit: 'kPa abs' }, bins, target, {
		missing: 'The calibration has no boost target: pressure is made by hardware, or set elsewhere.'
	});
	const commanded = link(
		{ name: 'commanded', title: 'set point', unit: 'kPa abs' },
		bins,
		frame.get('boostTarget'),
		{ missing: 'The set point isn’t logged.', asks: ['boostTarget'] }
	);
	const delivered = link(
		{ name: 'delivered', title: 'wastegate duty', unit: '%' },
		bins,
		frame.get('wastegateDuty'),
		{ missing: 'The duty of the wastegate isn’t logged.', asks: ['wastegateDuty'] }
	);
	const measured = link(
		{ name: 'measured', title: 'manifold pressure', unit: 'kPa abs' },
		bins,
		frame.get('map'),
		{ missing: 'Manifold pressure isn’t logged.', asks: ['map'] }
	);
	return {
		quantity: 'boost',
		title: 'Boost',
		axis: { title: 'Engine speed', unit: 'rpm', points: bins.points },
		links: [written, commanded, delivered, measured],
		broken: brokenIn()
	};

	function brokenIn(): Broken | null {
		const asked = apart(bins, target, frame.get('boostTarget'), TARGET_WITHIN_KPA);
		if (asked)
			return {
				at: 'commanded',
				why: `The set point stands ${markedBy(asked.worst, 'kPa', 0, true)} against the revision's target at ${asked.at} rpm: a protection, a gear or an air temperature takes it, or it is another file.`,
				from: asked.from,
				to: asked.to
			};
		const goal = commanded.missing === null ? commanded : written;
		// What only spools up hasn't failed yet: judged from where the set point was first reached within its limit.
		const reached = bins.points.findIndex((_, i) => {
			const [g, m] = [goal.values[i], measured.values[i]];
			return g != null && m != null && m >= g - profile.boostUnderWatchKpa;
		});
		const off = bins.points.flatMap((p, i) => {
			const [g, m] = [goal.values[i], measured.values[i]];
			if (g == null || m == null) return [];
			const d = m - g;
			return d > profile.boostOverWatchKpa || (d < -profile.boostUnderWatchKpa && reached >= 0 && i > reached)
				? [{ d, at: p, i, m, g }]
				: [];
		});
		if (off.length === 0 && reached < 0 && measured.missing === null && goal.missing === null)
			return {
				at: 'measured',
				why: 'The set point is never reached: a leak, an exhaust that holds it back, or a charger at its end.'
			};
		if (off.length === 0) return null;
		const worst = off.reduce((a, b) => (Math.abs(b.d) > Math.abs(a.d) ? b : a));
		const duty = delivered.values[worst.i];
		const atEnd = worst.d < 0 && duty != null && duty >= AT_ITS_END_PCT;
		return {
			at: 'measured',
			why: `${marked(worst.m, 'kPa abs')} instead of ${marked(worst.g, 'kPa abs')} at ${worst.at} rpm${atEnd ? ', with the wastegate closed to its end: it has no more to give' : worst.d > 0 ? ': it overshoots' : ': the control leaves it short, or it leaks'}.`,
			from: off[0]!.at,
			to: off.at(-1)!.at
		};
	}
}
