/**
 * Power and torque of a pull from the road: (m_eff·a + ½ρ·CdA·v² + Crr·m·g + m·g·sin grade)·v, torque = P / (2π·n). At the wheels plus
 * what the rotating parts take; the losses of the gearbox are not added. Grade is unknown to a log: two pulls in both directions
 * on the same road average it out.
 */
import { FLAG, type Segment } from '../evidence/segments/kinds.ts';
import type { Frame } from '../logfile/frame.ts';
import type { Segments } from '../evidence/segments/segments.ts';

import type { Vehicle } from '../vehicle/document.ts';
import { gearRatios } from '../vehicle/facts.ts';

const GRAVITY = 9.80665;
const ROLLING = 0.013;
/** Uncertainties that go into the result: mass, air drag, rolling, and a road that nobody levelled (grade as a share). */
const MASS_SHARE = 0.03;
const DRAG_SHARE = 0.1;
const ROLLING_SHARE = 0.3;
const GRADE = 0.005;
/** Width of the bins of engine speed. */
export const BIN_RPM = 250;
const SMOOTH_S = 0.5;

export interface RoadPower {
	/** Middles of 250 rpm bins. */
	rpm: number[];
	/** kW and Nm per bin; null where the pull has too little. */
	powerKw: (number | null)[];
	torqueNm: (number | null)[];
	/** Standard uncertainty of the power, percent; and what of it is left when the road is level, or driven both ways. */
	uncertaintyPct: number;
	levelUncertaintyPct: number;
	peakKw: number;
	peakNm: number;
}

export interface RoadInput {
	massKg: number;
	dragAreaM2: number;
	airDensityKgM3: number;
}

/** Mass as the engine feels it in a gear of total ratio N: 1.04 + 0.0025 N² (J. Y. Wong, Theory of Ground Vehicles; from memory). */
export function effectiveMass(massKg: number, totalRatio: number): number {
	return massKg * (1.04 + 0.0025 * totalRatio * totalRatio);
}

/** Power at the road in W: effective mass m_eff kg, acceleration m/s², speed m/s, grade as a share. */
export function roadPowerW(
	road: RoadInput,
	effectiveKg: number,
	accelerationMs2: number,
	speedMs: number,
	grade = 0
): number {
	const drag = 0.5 * road.airDensityKgM3 * road.dragAreaM2 * speedMs * speedMs;
	const rolling = ROLLING * road.massKg * GRAVITY;
	const slope = road.massKg * GRAVITY * Math.sin(Math.atan(grade));
	return (effectiveKg * accelerationMs2 + drag + rolling + slope) * speedMs;
}

/**
 * Power of one pull. @returns why not, where a fact or a channel is missing
 */
export function pullPower(
	frame: Frame,
	segments: Segments,
	vehicle: Vehicle,
	pull: Segment,
	airDensityKgM3: number
): RoadPower | { missing: string } {
	const rpm = frame.get('rpm');
	const speed = frame.get('speed');
	const { massKg, dragAreaM2, transmission } = vehicle;
	if (!rpm || !speed) return { missing: 'road speed is not logged' };
	if (!massKg) return { missing: 'the mass of the vehicle is not stated' };
	const ratios = gearRatios(vehicle);
	const gear = pull.gear ?? 0;
	const perKmh = ratios?.[gear - 1];
	const total = (transmission?.gears?.[gear - 1] ?? Number.NaN) * (transmission?.finalDrive ?? Number.NaN);
	if (!perKmh || !(total > 0)) return { missing: 'the gearbox is not stated, or the gear not known' };
	const road: RoadInput = { massKg, dragAreaM2: dragAreaM2 ?? 0.7, airDensityKgM3 };
	const meff = effectiveMass(massKg, total);
	// Speed from engine speed and the gear: much finer than what a speed sensor writes; its scale is that of the stated gearbox.
	const low = Math.floor(rpm[pull.from]! / BIN_RPM);
	const high = Math.max(low + 1, Math.ceil(rpm[pull.to]! / BIN_RPM));
	const bins = high - low;
	const sum = new Float64Array(bins);
	const count = new Int32Array(bins);
	const shares = { drag: 0, mass: 0, rolling: 0, all: 0, slope: 0 };
	let from = pull.from;
	let to = pull.from;
	for (let i = pull.from; i <= pull.to; i++) {
		const t = frame.timeS[i]!;
		while (frame.timeS[from]! < t - SMOOTH_S / 2) from++;
		while (to < pull.to && frame.timeS[to + 1]! <= t + SMOOTH_S / 2) to++;
		const dt = frame.timeS[to]! - frame.timeS[from]!;
		if (dt < SMOOTH_S * 0.6 || segments.flags[i]! & (FLAG.spin | FLAG.limited)) continue;
		const v = rpm[i]! / perKmh / 3.6;
		const a = (rpm[to]! - rpm[from]!) / perKmh / 3.6 / dt;
		const p = roadPowerW(road, meff, a, v);
		const b = Math.floor(rpm[i]! / BIN_RPM) - low;
		if (!(p === p) || b < 0 || b >= bins) continue;
		sum[b]! += p;
		count[b]!++;
		shares.all += p;
		shares.mass += meff * a * v;
		shares.drag += 0.5 * airDensityKgM3 * road.dragAreaM2 * v ** 3;
		shares.rolling += ROLLING * massKg * GRAVITY * v;
		shares.slope += GRADE * massKg * GRAVITY * v;
	}
	const centres = Array.from({ length: bins }, (_, b) => (low + b + 0.5) * BIN_RPM);
	const least = Math.max(2, Math.round(0.1 / frame.stepS));
	const powerKw = centres.map((_, b) => (count[b]! >= least ? sum[b]! / count[b]! / 1000 : null));
	const torqueNm = powerKw.map((p, b) => (p === null ? null : (p * 1000 * 60) / (2 * Math.PI * centres[b]!)));
	const level = Math.hypot(
		MASS_SHARE * (shares.mass + shares.rolling),
		(dragAreaM2 ? DRAG_SHARE : 2 * DRAG_SHARE) * shares.drag,
		ROLLING_SHARE * shares.rolling
	);
	const percent = (v: number) => (shares.all > 0 ? (100 * v) / shares.all : Number.NaN);
	return {
		rpm: centres,
		powerKw,
		torqueNm,
		uncertaintyPct: percent(Math.hypot(level, shares.slope)),
		levelUncertaintyPct: percent(level),
		peakKw: highest(powerKw),
		peakNm: highest(torqueNm)
	};
}

const highest = (list: (number | null)[]) => Math.max(0, ...list.filter((v): v is number => v !== null));

/**
 * The mean of several pulls of one gear, over the engine speeds that all of them ran through. What is wrong with mass and drag is wrong in
 * every pull and stays; a slope goes only where the road was driven both ways.
 * @returns `null` where no pull is given, or the pulls have no engine speed in common
 */
export function meanPower(pulls: readonly RoadPower[], bothWays: boolean): RoadPower | null {
	const [first] = pulls;
	if (!first) return null;
	const rpm = first.rpm.filter((r) => pulls.every((p) => (p.powerKw[p.rpm.indexOf(r)] ?? null) !== null));
	if (rpm.length === 0) return null;
	const mean = (of: (p: RoadPower) => number) => pulls.reduce((s, p) => s + of(p), 0) / pulls.length;
	const powerKw = rpm.map((r) => mean((p) => p.powerKw[p.rpm.indexOf(r)]!));
	const torqueNm = rpm.map((r) => mean((p) => p.torqueNm[p.rpm.indexOf(r)]!));
	const level = mean((p) => p.levelUncertaintyPct);
	return {
		rpm,
		powerKw,
		torqueNm,
		uncertaintyPct: bothWays ? level : mean((p) => p.uncertaintyPct),
		levelUncertaintyPct: level,
		peakKw: highest(powerKw),
		peakNm: highest(torqueNm)
	};
}

/** Density of air, kg/m³. */
export function airDensity(temperatureC: number, pressureKpa: number): number {
	return (pressureKpa * 1000) / (287.05 * (temperatureC + 273.15));
}
