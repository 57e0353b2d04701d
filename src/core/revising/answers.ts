/** What a proposal does about each finding: clears it, partly (what is left, where, why), or nothing (and what would). */
import { fixed, signed } from '../format.ts';
import { axisSource, turner, type AxisRef } from '../calibration/axes.ts';
import type { Requirement } from '../correction/estimate.ts';
import { isOpen, madeWith, type Evidence } from '../correction/evidence.ts';
import { checkOf, type CheckCode } from '../screening/codes.ts';
import { findingKey, type Finding } from '../screening/types.ts';
import type { FindingAnswer, Held, ItemProposal } from './proposal.ts';

/** Findings of the mixture that the fuel table answers, and the way in which what is left counts. */
const FUEL: Readonly<Record<string, 'lean' | 'rich'>> = {
	'fuel.lean': 'lean',
	'fuel.rich': 'rich'
} satisfies Partial<Record<CheckCode, 'lean' | 'rich'>>;

/** What helps where no table does, by the kind of advice that a check gives. */
const HELPS: Readonly<Record<string, string>> = {
	repair: 'something has to be found and repaired',
	part: 'a part has to be changed',
	fuel: 'another fuel would help',
	log: 'another log is needed',
	other: 'no table answers it'
};

/**
 * @param changes what is proposed
 * @returns one for each finding at stop, fix or watch of the logs made with the revision, the worst first
 */
export function answersTo(
	evidence: readonly Evidence[],
	requirement: Requirement | null,
	changes: readonly ItemProposal[],
	held: readonly Held[]
): FindingAnswer[] {
	const own = requirement ? evidence.filter((e) => madeWith(e, requirement.base)) : evidence;
	const seen = new Set<string>();
	return own
		.flatMap((e) => e.findings)
		.filter(
			(f) => (isOpen(f) || f.severity === 'watch') && !seen.has(findingKey(f)) && seen.add(findingKey(f))
		)
		.map((f): FindingAnswer => {
			const about = { key: findingKey(f), title: f.title, severity: f.severity };
			const side = FUEL[f.code];
			if (side && requirement) return { ...about, ...fuelAnswer(f, side, requirement) };
			const by = changes.filter((c) => c.findings.includes(f.code));
			const stopped = held.find((h) => h.code === f.code);
			if (by.length)
				return { ...about, does: stopped ? 'partly' : 'cleared', words: stopped?.reason ?? by[0]!.reason };
			const advice = checkOf(f.code)?.advice;
			return {
				...about,
				does: 'nothing',
				words: stopped?.reason ?? HELPS[advice ?? 'other'] ?? HELPS['other']!
			};
		});
}

/** What stays off in the region of a finding, once the changes are in. */
function fuelAnswer(
	f: Finding,
	side: 'lean' | 'rich',
	r: Requirement
): Pick<FindingAnswer, 'does' | 'words'> {
	const limit = side === 'lean' ? r.speaking[0]!.profile.leanWatchPct : r.speaking[0]!.profile.richWatchPct;
	let before = 0;
	let left = 0;
	let worst = -1;
	let touched = false;
	for (const i of inRegion(f, r)) {
		const sign = side === 'lean' ? 1 : -1;
		const change = r.changes[i]!.delta;
		const off = sign * 100 * r.field.d[i]!;
		const after = sign * 100 * ((1 + r.field.d[i]!) / (1 + change) - 1);
		if (change !== 0) touched = true;
		before = Math.max(before, off);
		if (after > left) {
			left = after;
			worst = i;
		}
	}
	const shown = (v: number) => `${signed(side === 'lean' ? v : -v)} %`;
	if (!touched)
		return {
			does: 'nothing',
			words: worst < 0 ? 'nothing is off there in the mean' : `${shown(before)} stays: ${stays(r, worst)}`
		};
	if (left <= limit)
		return { does: 'cleared', words: `${shown(before)} before, ${shown(left)} left at most` };
	const place = placeOf(r, worst);
	return {
		does: 'partly',
		words: `${shown(before)} before, ${shown(left)} left at ${place}: ${stays(r, worst)}`
	};
}

function stays(r: Requirement, i: number): string {
	const n = r.changes[i]!;
	if (n.delta > 0) return 'a revision adds no more at once';
	if (n.delta < 0) return 'a revision takes no more out at once';
	return {
		quiet: 'less than its own doubt',
		'removal-held': 'taking fuel out is held here',
		far: 'nobody drove near it',
		unsure: 'not driven long enough to be sure',
		held: 'a misfire hides it'
	}[n.stays ?? 'quiet'];
}

function placeOf(r: Requirement, i: number): string {
	const t = r.nodes.tables.find((table) => i >= table.first && i < table.first + table.nx * table.ny)!;
	const at = i - t.first;
	const x = fixed(t.x.points[at % t.nx]!, 0);
	return t.y ? `${x} / ${fixed(t.y.points[Math.floor(at / t.nx)]!, 0)}` : x;
}

/** Nodes that were driven and lie in the region of a finding, by the axes that they have in common; all that were driven without one. */
function* inRegion(f: Finding, r: Requirement): Generator<number> {
	const baro = r.speaking[0]!.segments.baroKpa;
	for (const t of r.nodes.tables) {
		const inside = (axis: AxisRef & { points: readonly number[] }, at: number): boolean => {
			const source = axisSource(axis);
			const region = source === 'rpm' ? f.region?.rpm : source === 'map' ? f.region?.map : undefined;
			if (!region) return true;
			const turn = turner({ channel: source }, axis, baro)!;
			const [low, high] = [turn(region[0]), turn(region[1])];
			const [below, above] = [
				axis.points[Math.max(0, at - 1)]!,
				axis.points[Math.min(axis.points.length - 1, at + 1)]!
			];
			return (below + axis.points[at]!) / 2 <= high && (above + axis.points[at]!) / 2 >= low;
		};
		for (let n = 0; n < t.nx * t.ny; n++) {
			const i = t.first + n;
			if (!(r.field.support[i]! > 1)) continue;
			if (!inside(t.x, n % t.nx) || (t.y && !inside(t.y, Math.floor(n / t.nx)))) continue;
			yield i;
		}
	}
}
