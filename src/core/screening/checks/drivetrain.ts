/** `shift.speed`, `traction`, `cam.position`. */
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import type { Item } from '../../calibration/document.ts';
import { findItem } from '../../calibration/lookup.ts';
import { interpolateCurve, Surface } from '../../calibration/grid.ts';
import { derived } from '../../logfile/columns.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { fixed, list, plural } from '../../format.ts';

interface Shift {
	from: number;
	to: number;
	gear: number;
	toGear: number;
	rpm: number;
	full: boolean;
	pedal: number;
}

const BEFORE_S = 0.5;

/** Upshifts: the gear that was left, the engine speed before it fell, whether at full throttle. */
export function upshifts({ frame, segments, profile }: Prepared): Shift[] {
	const rpm = frame.get('rpm');
	const { gear } = segments;
	const opening = frame.first('pedal', 'tps');
	if (!rpm || !gear) return [];
	// A shift whose engine speed is missing tells nothing.
	const shifts = segments.list.flatMap((s): Shift[] => {
		if (s.kind !== 'shift' || !s.gear || !s.toGear || s.toGear <= s.gear) return [];
		let top = s.from;
		let pedal = 0;
		for (let i = s.from; i <= s.to; i++) if (rpm[i]! > rpm[top]!) top = i;
		// Some lift for the change: what was asked for stands before it.
		for (let i = top; i >= 0 && frame.timeS[top]! - frame.timeS[i]! <= BEFORE_S; i--)
			if (opening && opening[i]! > pedal) pedal = opening[i]!;
		return [
			{
				from: s.from,
				to: s.to,
				gear: s.gear,
				toGear: s.toGear,
				rpm: rpm[top]!,
				full: pedal >= profile.loadedThrottlePct,
				pedal
			}
		];
	});
	return shifts.filter((s) => Number.isFinite(s.rpm));
}

/** Engine speed that the calibration asks for at the upshift out of a gear; null where it doesn't say. */
export function shiftRpm(item: Item | undefined, gear: number, pedalPct: number): number | null {
	if (item?.kind === 'curve') return interpolateCurve(item.x.points, item.values, gear);
	if (item?.kind !== 'map') return null;
	// Gear and pedal may lie either way round.
	const [x, y] = item.x.channel === 'gear' ? [gear, pedalPct] : [pedalPct, gear];
	return new Surface(item.x.points, item.y.points, item.values).at(x, y);
}

/** Upshifts in the order that they came, and the one that is farthest off. */
type ShiftFacts = {
	gears: number[];
	/** The gears that came: some are skipped. */
	to: number[];
	rpm: number[];
	/** Which of them were driven at full throttle: their places in the lists. */
	full: number[];
	worstGear: number;
	worstTo: number;
	worstRpm: number;
	offRpm: number;
};

const SAID = 8;

function shiftsSaid({ gears, to, rpm, full }: Pick<ShiftFacts, 'gears' | 'to' | 'rpm' | 'full'>): string {
	return list(
		gears
			.slice(0, SAID)
			.map(
				(g, i) => `${g}–${to[i]} at ${Math.round(rpm[i]!)} rpm${full.includes(i) ? ' (full throttle)' : ''}`
			)
	);
}

export const shiftSpeed = check({
	code: 'shift.speed',
	title: 'Shift speeds',
	section: 'drivetrain',
	needs: ['gears'],
	units: {
		gears: 'gear',
		to: 'gear',
		worstTo: 'gear',
		rpm: 'rpm',
		full: '',
		worstGear: 'gear',
		worstRpm: 'rpm',
		offRpm: 'rpm'
	},
	run(input) {
		const { frame, segments, profile, calibration } = input;
		if (!frame.has('rpm')) return notChecked('engine speed is not logged', 'rpm');
		if (!segments.gear) return notChecked('the gear can not be told', 'speed');
		const shifts = upshifts(input);
		if (shifts.length === 0) return notChecked('there is no upshift in this log', 'an upshift');
		const full = shifts.filter((s) => s.full);
		const driven = {
			gears: shifts.map((s) => s.gear),
			to: shifts.map((s) => s.toGear),
			rpm: shifts.map((s) => s.rpm),
			full: shifts.flatMap((s, i) => (s.full ? [i] : []))
		};
		const said = shiftsSaid(driven);
		const wanted = calibration && findItem(calibration, 'shift.rpm');
		if (!wanted || (wanted.kind !== 'curve' && wanted.kind !== 'map'))
			return pass(`Upshifts: ${said}. No requested speed is stated.`);
		const off = full
			.map((s) => ({ ...s, off: s.rpm - shiftRpm(wanted, s.gear, s.pedal)! }))
			.sort((a, b) => Math.abs(b.off) - Math.abs(a.off));
		const [worst] = off;
		if (!worst || Math.abs(worst.off) <= profile.shiftOffRpm) return pass(`Upshifts: ${said}.`);
		return found(
			finding(input, {
				severity: 'note',
				facts: {
					...driven,
					worstGear: worst.gear,
					worstTo: worst.toGear,
					worstRpm: worst.rpm,
					offRpm: worst.off
				},
				value: worst.off,
				limit: Math.sign(worst.off) * profile.shiftOffRpm,
				unit: 'rpm',
				runs: [{ from: worst.from, to: worst.to }],
				channels: ['rpm', 'gear', 'speed', 'pedal']
			})
		);
	},
	words: ({ facts }: Told<ShiftFacts>) => {
		const { worstGear, worstTo, worstRpm, offRpm } = facts;
		const off = Math.round(Math.abs(offRpm));
		return {
			title: `Upshift ${worstGear}–${worstTo} off by ${off} rpm`,
			summary: `At full throttle the shift out of gear ${worstGear} came at ${Math.round(worstRpm)} rpm, ${off} rpm ${offRpm > 0 ? 'later' : 'earlier'} than requested. Upshifts: ${shiftsSaid(facts)}.`,
			causes: ['a gearbox controller with limits of its own', 'a manual shift'],
			next: ['compare with the shift table before power figures are read']
		};
	}
});

type SpinFacts = { stretches: number; topPct: number };

export const traction = check({
	code: 'traction',
	title: 'Wheelspin',
	section: 'drivetrain',
	needs: ['gears'],
	units: { stretches: 'times', topPct: '%' },
	run(input) {
		const { frame, segments, profile } = input;
		if (!frame.has('speed')) return notChecked('road speed is not logged', 'speed');
		if (segments.pulls.length === 0)
			return notChecked('there is no pull in this log', 'a full-throttle pull');
		const { slip } = segments;
		if (!slip) return notChecked('the ratio of the gears is not known', 'vehicle: transmission.gears');
		const spun = stretches(
			frame,
			0.2,
			(i) => (segments.flags[i]! & FLAG.pull) !== 0 && slip[i]! > profile.slipPct,
			0.15
		);
		if (spun.length === 0) return pass("Engine and road speed stay in the gear's ratio in every pull.");
		const top = heldHigh(frame, slip, 0.2, segments.pulls);
		return found(
			finding(input, {
				severity: 'note',
				facts: { stretches: spun.length, topPct: top.level },
				value: top.level,
				limit: profile.slipPct,
				unit: '%',
				runs: spun,
				channels: ['rpm', 'speed', 'tps']
			})
		);
	},
	words: ({ facts: { stretches: times, topPct } }: Told<SpinFacts>) => ({
		title: `Wheelspin, up to ${fixed(topPct, 0)} %`,
		summary: `In ${plural(times, 'stretch', 'stretches')} of full throttle the engine ran up to ${fixed(topPct, 0)} % faster than the road speed allows; that doesn't count for power.`,
		causes: ['wheelspin', 'a slipping clutch or converter'],
		next: ['a higher gear, or smoother on the pedal', 'if it happens without spin: the clutch']
	})
});

type CamFacts = { offDeg: number };

export const camPosition = check({
	code: 'cam.position',
	title: 'Cams',
	section: 'drivetrain',
	units: { offDeg: '°' },
	run(input) {
		const { frame, segments, profile } = input;
		const cam = frame.get('camIntake');
		const target = frame.get('camIntakeTarget');
		if (!cam) return notChecked('the cam position is not logged', 'camIntake');
		if (!target) return notChecked('the target of the cam is not logged', 'camIntakeTarget');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const off = derived(cam, (c, i) => Math.abs(c - target[i]!), segments.loaded);
		const top = heldHigh(frame, off, 0.5, segments.loaded);
		if (top.at < 0) return notChecked('no loaded stretch lasts half a second', 'loaded driving');
		if (top.level <= profile.camOffDeg)
			return pass(`Cam within ${fixed(top.level, 1)}° of its target under load.`);
		return found(
			finding(input, {
				severity: 'watch',
				facts: { offDeg: top.level },
				value: top.level,
				limit: profile.camOffDeg,
				unit: '°',
				runs: stretches(
					frame,
					0.5,
					(i) => (segments.flags[i]! & FLAG.loaded) !== 0 && off[i]! > profile.camOffDeg,
					0.1
				),
				channels: ['camIntake', 'camIntakeTarget', 'oilTemp', 'rpm']
			})
		);
	},
	words: ({ facts: { offDeg } }: Told<CamFacts>) => ({
		title: `Cam ${fixed(offDeg, 0)}° off its target`,
		summary: `Under load the intake cam stays ${fixed(offDeg, 1)}° off its target for half a second and more.`,
		causes: ['oil pressure or temperature', 'a sticking valve of the phaser', 'a stretched chain'],
		next: ['look at it before tables that blend by cam are corrected']
	})
});
