/** Full-throttle upshifts: engine speed that the revision asks for, and the one at which the gear let go. */
import { findItem } from '../calibration/lookup.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { fixed, plural, signed } from '../format.ts';
import { shiftRpm, upshifts } from '../screening/checks/drivetrain.ts';
import { median } from '../stats/stats.ts';
import type { Broken, Line } from './line.ts';

/** Own choice: a shift takes a moment, and an engine near its limiter climbs fast. */
const WITHIN_RPM = 150;

/** Samples before a shift at which the limiter still counts. */
const BEFORE = 3;

/** Upshifts at full throttle; one that the limiter ended tells nothing of the shift speed. */
export function fullShifts(input: Prepared): { gear: number; rpm: number; limited: boolean }[] {
	const { flags } = input.segments;
	return upshifts(input)
		.filter((s) => s.full)
		.map(({ from, to, gear, rpm }) => {
			let limited = false;
			for (let i = Math.max(0, from - BEFORE); i <= to; i++) if (flags[i]! & FLAG.limiter) limited = true;
			return { gear, rpm, limited };
		});
}

export function shiftLine(input: Prepared): Line | null {
	const { segments, calibration } = input;
	const wanted = calibration ? findItem(calibration, 'shift.rpm') : undefined;
	const full = fullShifts(input);
	if (!wanted && full.length === 0) return null;
	const gears = [...new Set(full.map((s) => s.gear))].sort((a, b) => a - b);
	const own = (gear: number) => full.filter((s) => s.gear === gear && !s.limited).map((s) => s.rpm);
	const asked = gears.map((g) => shiftRpm(wanted, g, 100));
	const got = gears.map((g) => (own(g).length ? median(own(g)) : null));
	const none = (name: Line['links'][number]['name'], title: string, missing: string) => ({
		name,
		title,
		unit: 'rpm',
		values: gears.map(() => null),
		missing
	});
	return {
		quantity: 'shifts',
		title: 'Shifts at full throttle',
		axis: { title: 'Out of gear', unit: '', points: gears },
		links: [
			{
				name: 'written',
				title: 'shift speed of the revision',
				unit: 'rpm',
				values: asked,
				missing: asked.some((v) => v !== null) ? null : 'The calibration has no shift speeds.'
			},
			none('commanded', 'command of the gearbox', 'No log names the command.'),
			{
				name: 'delivered',
				title: 'engine speed at the shift',
				unit: 'rpm',
				values: got,
				missing: got.some((v) => v !== null)
					? null
					: segments.gear === null
						? 'Neither a gear is logged nor one can be told from the speeds.'
						: 'No full-throttle upshift, but for those that the limiter ended.'
			},
			none('measured', '', 'Nothing else sees it.')
		],
		broken: brokenIn()
	};

	function brokenIn(): Broken | null {
		const off = gears.flatMap((g, i) => {
			const [a, b] = [asked[i], got[i]];
			return a != null && b != null && Math.abs(b - a) > WITHIN_RPM ? [{ g, d: b - a, a, b }] : [];
		});
		if (off.length === 0) return null;
		const worst = off.reduce((a, b) => (Math.abs(b.d) > Math.abs(a.d) ? b : a));
		const n = own(worst.g).length;
		return {
			at: 'delivered',
			why: `Out of gear ${worst.g} it shifts at ${fixed(worst.b, 0)} rpm, ${signed(worst.d, 0)} against the ${fixed(worst.a, 0)} asked for (${plural(n, 'shift')}).`,
			from: off[0]!.g,
			to: off.at(-1)!.g
		};
	}
}
