/**
 * Plugs, lambda by cylinder and exhaust temperature together: trims by cylinder as a proposal, what is held and why, and what was found.
 * Kinds of evidence are ranked by the tuner; where two contradict each other on a cylinder, nothing is proposed for it.
 */
import type { Calibration, CurveItem } from '../calibration/document.ts';
import { decimalsOf, findCurve, roundTo } from '../calibration/lookup.ts';
import { capital, fixed, list, plural, signed } from '../format.ts';
import { InputError } from '../input-error.ts';
import { profileOf } from '../limits/profile.ts';
import type { Severity } from '../screening/types.ts';
import { median } from '../stats/stats.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { cylindersByBank } from '../vehicle/facts.ts';
import type { PlugReading, Plugs } from './document.ts';
import type { Witnesses } from './witnesses.ts';
import {
	APART_POINTS,
	damageOf,
	foulOf,
	fuelOf,
	MOST_OVER_MEDIAN,
	MOST_PASSES,
	PAST_BEND_DEG,
	SHORT_DEG
} from './rule.ts';

export const FUEL_TRIM = 'fuel.cylTrim';
export const SPARK_TRIM = 'spark.cylTrim';

export const KINDS = ['lambda', 'plugs', 'egt'] as const;
export type Kind = (typeof KINDS)[number];

export interface TrimChange {
	item: typeof FUEL_TRIM | typeof SPARK_TRIM;
	cylinder: number;
	from: number;
	to: number;
	reason: string;
}
export interface PlugHold {
	/** `null`: the whole set. */
	cylinder: number | null;
	reason: string;
}
export interface PlugFinding {
	code: 'cyl.plug' | 'cyl.trim';
	severity: Severity;
	cylinder?: number;
	title: string;
	summary: string;
	next: string[];
}
export interface PlugAnswer {
	/** Mean fuel trim of the cylinders of each bank with the changes: that much the bank as a whole gets over its table. */
	bankMean: { bank: number; pct: number }[];
	changes: TrimChange[];
	held: PlugHold[];
	findings: PlugFinding[];
}

export interface PlugCase {
	plugs: Plugs;
	calibration: Calibration;
	vehicle: Vehicle;
	/** What a log of the same session says of the cylinders. */
	witnesses?: Witnesses | null;
	/** Kinds of evidence, the one that counts most first. */
	rank?: readonly Kind[];
}

/** Why a set can't be read for fuel and timing; `null` where it can. */
export function unreadable(p: Plugs): string | null {
	const why = [
		...(p.plated ? [] : ['the plugs have no plating that could burn away']),
		...(p.newForSession ? [] : ['they were not new for this session']),
		...(p.passes < 1 ? ['no pass was driven on them'] : []),
		...(p.passes > MOST_PASSES ? [`${p.passes} passes are more than ${MOST_PASSES}`] : []),
		...(p.cutAfterPass ? [] : ['the engine was not cut after the pass, so they show the way back'])
	];
	return why.length ? list(why) : null;
}

/** @throws InputError for a cylinder that the engine doesn't have */
export function judgePlugs({
	plugs,
	calibration,
	vehicle,
	witnesses = null,
	rank = KINDS
}: PlugCase): PlugAnswer {
	plugs.readings.forEach((r, i) => {
		if (r.cylinder > vehicle.engine.cylinders)
			throw new InputError(
				`the engine has ${vehicle.engine.cylinders} cylinders (found ${r.cylinder})`,
				`readings[${i}].cylinder`
			);
	});
	const held: PlugHold[] = [];
	const findings = plugs.readings.flatMap(findingsOf);
	const why = unreadable(plugs);
	if (why)
		held.push({
			cylinder: null,
			reason: `Not readable: ${why}. The reading is kept; fuel and timing wait for the next one`
		});
	const fuel = findCurve(calibration, FUEL_TRIM);
	const spark = findCurve(calibration, SPARK_TRIM);
	const asks = why ? [] : plugs.readings.map((r) => askOf(r, witnesses, rank));
	for (const a of asks) held.push(...a.held.map((reason) => ({ cylinder: a.cylinder, reason })));
	const changes: TrimChange[] = [];
	if (!fuel && asks.some((a) => a.fuel !== 0))
		held.push({ cylinder: null, reason: 'The calibration has no fuel trims by cylinder' });
	if (!spark && asks.some((a) => a.timing !== 0))
		held.push({ cylinder: null, reason: 'The calibration has no timing trims by cylinder' });
	if (fuel) changes.push(...fuelChanges(fuel, asks, held));
	if (spark)
		for (const a of asks) {
			const change = added(SPARK_TRIM, spark, a.cylinder, a.timing, a.timingWhy);
			if (change) changes.push(change);
		}
	const trims = fuel ? trimsWith(fuel, changes) : new Map<number, number>();
	findings.push(...trimFindings(trims, vehicle));
	return {
		bankMean: (cylindersByBank(vehicle) ?? []).map((members, b) => ({
			bank: b + 1,
			pct: Number(
				fixed(members.reduce((s, c) => s + (trims.get(c) ?? 0), 0) / Math.max(1, members.length), 3)
			)
		})),
		changes,
		held,
		findings
	};
}

interface Ask {
	cylinder: number;
	/** Points of fuel and degrees of timing to be added to the trims. */
	fuel: number;
	fuelWhy: string;
	timing: number;
	timingWhy: string;
	held: string[];
}

const GONE: Record<NonNullable<PlugReading['plating']>, string> = {
	none: 'no plating is gone',
	quarter: 'a quarter of the plating is gone',
	half: 'half of the plating is gone',
	most: 'most of the plating is gone',
	all: 'all of the plating is gone'
};

/** What one cylinder asks for, by everything that is known of it. */
function askOf(r: PlugReading, witnesses: Witnesses | null, rank: readonly Kind[]): Ask {
	const ask: Ask = { cylinder: r.cylinder, fuel: 0, fuelWhy: '', timing: 0, timingWhy: '', held: [] };
	if (damageOf(r).length) {
		ask.held.push('Something is damaged in there: look before anything is trimmed');
		return ask;
	}
	const plug = fuelOf(r);
	const lambda = witnesses?.lambda.get(r.cylinder) ?? null;
	const heat = witnesses?.heat.get(r.cylinder) ?? null;
	const foul = foulOf(r);
	if (foul.length && (witnesses?.misfires.get(r.cylinder) || (plug ?? 0) > 0)) {
		ask.held.push(
			witnesses?.misfires.get(r.cylinder)
				? `${foul.join(' and ')}, and it misfires: ignition or injector before fuel`
				: `${foul.join(' and ')}, and yet plating is gone: ignition or injector before fuel`
		);
		return ask;
	}
	const wants: { kind: Kind; points: number; words: string }[] = [
		...(lambda === null
			? []
			: [{ kind: 'lambda' as const, points: lambda, words: `lambda by cylinder ${signed(lambda)} %` }]),
		...(plug === null ? [] : [{ kind: 'plugs' as const, points: plug, words: GONE[r.plating!] }])
	].sort((a, b) => rank.indexOf(a.kind) - rank.indexOf(b.kind));
	const [first, second] = wants;
	// Exhaust temperature is slow and of two minds: it may contradict, but it trims nothing.
	const against = heat !== null && first && Math.sign(heat) * Math.sign(first.points) < 0;
	if (first && second && contradict(first.points, second.points))
		ask.held.push(`${first.words}, but ${second.words}: they contradict each other, and nothing is trimmed`);
	else if (against)
		ask.held.push(
			`${first.words}, but its exhaust is ${heat > 0 ? 'hotter' : 'colder'} than the others': they contradict each other, and nothing is trimmed`
		);
	else if (first && first.points !== 0) {
		// Where a plug was read and nothing is gone, leaner gains nothing.
		if (first.points < 0 && plug !== null)
			ask.held.push('It could be leaner: the engine gains nothing by it, left alone');
		else {
			ask.fuel = first.points;
			ask.fuelWhy = capital(first.words);
		}
	}
	timing(r, ask);
	return ask;
}

function timing(r: PlugReading, ask: Ask): void {
	if (r.mark === 'past-bend' && (ask.fuel > 0 || (fuelOf(r) ?? 0) > 0))
		ask.held.push(
			'The heat mark is past the bend, but a lean hole moves it too: fuel first, timing waits for the next reading'
		);
	else if (r.mark === 'past-bend') {
		ask.timing = PAST_BEND_DEG;
		ask.timingWhy = 'The heat mark is past the bend';
	} else if (r.mark === 'whole-strap' && (fuelOf(r) ?? 0) > 0)
		ask.held.push(
			'The heat mark covers the whole strap, but the plating is gone: a lean hole, timing waits for the next reading'
		);
	else if (r.mark === 'short')
		ask.held.push(`The heat mark is short: it could take ${signed(SHORT_DEG)}°, left alone`);
}

/** Other sign, or more than two points apart. */
const contradict = (a: number, b: number) =>
	Math.sign(a) * Math.sign(b) < 0 || Math.abs(a - b) > APART_POINTS + 1e-9;

function added(
	item: TrimChange['item'],
	curve: CurveItem,
	cylinder: number,
	by: number,
	reason: string
): TrimChange | null {
	const at = curve.x.points.indexOf(cylinder);
	if (at < 0 || by === 0) return null;
	const from = curve.values[at]!;
	const to = roundTo(
		Math.min(curve.max ?? Infinity, Math.max(curve.min ?? -Infinity, from + by)),
		decimalsOf(curve)
	);
	return to === from ? null : { item, cylinder, from, to, reason };
}

/** Adds to what stands in the trims, never beyond the median of the set + 5. */
function fuelChanges(curve: CurveItem, asks: readonly Ask[], held: PlugHold[]): TrimChange[] {
	const changes = asks.flatMap((a) => added(FUEL_TRIM, curve, a.cylinder, a.fuel, a.fuelWhy) ?? []);
	const most = median([...trimsWith(curve, changes).values()]) + MOST_OVER_MEDIAN;
	return changes.flatMap((c): TrimChange[] => {
		if (c.to <= most || c.to <= c.from) return [c];
		held.push({
			cylinder: c.cylinder,
			reason: `It would be trimmed beyond ${signed(MOST_OVER_MEDIAN, 0)} points over the median of the set: have the injectors flowed first`
		});
		const to = roundTo(Math.max(c.from, most), decimalsOf(curve));
		return to > c.from ? [{ ...c, to }] : [];
	});
}

function trimsWith(curve: CurveItem, changes: readonly TrimChange[]): Map<number, number> {
	const out = new Map(curve.x.points.map((c, i) => [c, curve.values[i]!]));
	for (const c of changes) if (c.item === FUEL_TRIM) out.set(c.cylinder, c.to);
	return out;
}

const DAMAGE_WORDS = {
	'melted-strap': 'the strap is melted',
	specks: 'specks of metal are on it',
	porcelain: 'its porcelain is broken'
} as const;

function findingsOf(r: PlugReading): PlugFinding[] {
	const damage = damageOf(r);
	if (damage.length)
		return [
			{
				code: 'cyl.plug',
				severity: 'stop',
				cylinder: r.cylinder,
				title: `Plug of cylinder ${r.cylinder}: ${damage.map((d) => DAMAGE_WORDS[d]).join(', ')}`,
				summary: `${capital(list(damage.map((d) => DAMAGE_WORDS[d])))}: this cylinder knocked or ran far too hot. It isn't driven on before somebody has looked into it.`,
				next: [
					'measure compression and leak-down of this cylinder',
					'look in with a borescope',
					'its injector, its trim and its coil before it is started again'
				]
			}
		];
	if (r.mark === 'whole-strap' && (fuelOf(r) ?? 0) === 0)
		return [
			{
				code: 'cyl.plug',
				severity: 'fix',
				cylinder: r.cylinder,
				title: `Plug of cylinder ${r.cylinder}: the heat mark covers the whole strap`,
				summary: `The heat mark of cylinder ${r.cylinder} covers the whole strap, and no plating is gone: too much timing, or a plug that is too hot for this. No step is taken before it is settled.`,
				next: ['check the heat range', 'take timing out of this cylinder and read again']
			}
		];
	return [];
}

/** A trim far from the others is an injector that flows differently. */
function trimFindings(trims: ReadonlyMap<number, number>, vehicle: Vehicle): PlugFinding[] {
	const profile = profileOf(vehicle.limits);
	if (trims.size < 3) return [];
	const middle = median([...trims.values()]);
	return [...trims]
		.map(([cylinder, v]) => ({ cylinder, points: v - middle }))
		.filter((o) => Math.abs(o.points) >= profile.cylTrimWatch - 1e-9)
		.sort((a, b) => Math.abs(b.points) - Math.abs(a.points))
		.map(({ cylinder, points }) => ({
			code: 'cyl.trim' as const,
			severity: Math.abs(points) >= profile.cylTrimFix - 1e-9 ? ('fix' as const) : ('watch' as const),
			cylinder,
			title: `Cylinder ${cylinder} is trimmed by ${signed(points)} points against the set`,
			summary: `With this reading cylinder ${cylinder} stands ${signed(points)} points from the median of the set.`,
			next: ['have the set flowed, numbered']
		}));
}

/** What makes two readings no match for a trend, in words; empty where they are alike. */
export function differences(a: Plugs, b: Plugs): string[] {
	return [
		...(a.heatRange === b.heatRange && a.rangeCounts === b.rangeCounts ? [] : ['another heat range']),
		...((a.fuel ?? '') === (b.fuel ?? '') ? [] : ['another fuel']),
		...(a.passes === b.passes ? [] : [`${plural(a.passes, 'pass', 'passes')} against ${b.passes}`]),
		...(a.plated === b.plated ? [] : ['plated against plain'])
	];
}
