/** What was driven beyond a drive plan: more pulls, higher revs or pressure than it asks for, or pulls after something that should have ended them. */
import { fixed, plural, quantity } from '../format.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG, type Segment } from '../evidence/segments/kinds.ts';
import { stretches, type Run } from '../stats/runs.ts';
import type { Manoeuvre } from '../request.ts';
import { heldHigh } from './measure.ts';

/** A little more than was asked for happens; checks of the drive plan allow as much. */
const MORE_RPM = 300;
const MORE_KPA = 5;
const HOLD_S = 0.3;
/** From this retard on a pull is broken off, and none follows. */
const ENDS_PULLS_DEG = 3;

export interface Beyond {
	what: string;
	runs: Run[];
}

const runOf = (s: Segment): Run => ({ from: s.from, to: s.to });
const at = (s: Segment): string => `at ${fixed(s.fromS, 0)} s`;

/** Pulls that manoeuvres ask for, one in each gear that they name. */
const countOf = (m: Manoeuvre): number => (m.count ?? 1) * Math.max(1, m.gears?.length ?? 1);

function tooMany(asked: readonly Manoeuvre[], pulls: readonly Segment[]): Beyond[] {
	const most = asked.reduce((n, m) => n + countOf(m), 0);
	if (pulls.length <= most) return [];
	const what =
		most === 0
			? `${plural(pulls.length, 'full-throttle pull')} where none was asked for`
			: `${plural(pulls.length, 'pull')} where ${most} ${most === 1 ? 'was' : 'were'} asked for`;
	return [{ what, runs: pulls.slice(most).map(runOf) }];
}

function tooHigh({ frame }: Prepared, asked: readonly Manoeuvre[], pulls: readonly Segment[]): Beyond[] {
	const rpm = frame.get('rpm');
	// One without an end may go as far as the engine does.
	if (!rpm || asked.length === 0 || asked.some((m) => !m.rpm)) return [];
	const end = Math.max(...asked.map((m) => m.rpm![1]));
	const over = pulls.filter((p) => heldHigh(frame, rpm, 0, [runOf(p)]).level > end + MORE_RPM);
	if (over.length === 0) return [];
	const most = Math.max(...over.map((p) => heldHigh(frame, rpm, 0, [runOf(p)]).level));
	return [
		{
			what: `pulled to ${fixed(most, 0)} rpm where ${fixed(end, 0)} were asked for (${over.map(at).join(', ')})`,
			runs: over.map(runOf)
		}
	];
}

function tooMuch({ frame, segments, request }: Prepared): Beyond[] {
	const most = request?.conditions?.mapMaxKpa;
	const map = frame.get('map');
	if (!map || most === undefined) return [];
	const { level } = heldHigh(frame, map, HOLD_S, segments.loaded);
	if (!(level > most + MORE_KPA)) return [];
	return [
		{
			what: `${quantity(Number(fixed(level, 0)), 'kPa abs')} of manifold pressure where ${quantity(most, 'kPa abs')} were the most`,
			runs: stretches(frame, HOLD_S, (i) => map[i]! > most + MORE_KPA, 0.2)
		}
	];
}

/** When the engine said that it had had enough: misfires counted under load, and knock that ends a pull, seconds into the log. */
function warnings({ frame, segments, knock: episodes }: Prepared): { atS: number; why: string }[] {
	const counters = frame.ids.filter((id) => id.startsWith('misfire.')).map((id) => frame.get(id)!);
	let misfireS = Infinity;
	for (let i = 1; i < frame.length && misfireS === Infinity; i++)
		if (segments.flags[i]! & FLAG.loaded && counters.some((c) => c[i]! > c[i - 1]!))
			misfireS = frame.timeS[i]!;
	const knock = episodes?.find((e) => e.loaded && e.peakDeg >= ENDS_PULLS_DEG);
	return [
		...(misfireS < Infinity ? [{ atS: misfireS, why: 'misfires' }] : []),
		...(knock ? [{ atS: knock.fromS, why: `${fixed(knock.peakDeg, 1)}° of knock retard` }] : [])
	];
}

/** What a log holds beyond its drive plan; empty without a plan, and where the plan is to show a problem as it comes. */
export function beyondPlan(input: Prepared): Beyond[] {
	const wanted = input.request?.manoeuvres ?? [];
	if (wanted.length === 0 || wanted.some((m) => m.kind === 'symptom')) return [];
	const { pulls } = input.segments;
	const asked = wanted.filter((m) => m.kind === 'pull');
	const after = warnings(input).flatMap(({ atS, why }): Beyond[] => {
		const late = pulls.filter((p) => p.fromS > atS);
		return late.length
			? [
					{
						what: `${plural(late.length, 'pull')} after ${why} (${late.map(at).join(', ')})`,
						runs: late.map(runOf)
					}
				]
			: [];
	});
	return [...tooMany(asked, pulls), ...tooHigh(input, asked, pulls), ...tooMuch(input), ...after];
}
