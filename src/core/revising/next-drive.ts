/**
 * The next log, designed: of the drives that could be asked for, those that take most doubt off the cells of the fuel table per minute
 * of driving. Each is judged by what its samples would do to the standard deviations of the nodes that they touch.
 */
import { bisectLeft, bisectRight } from 'd3-array';
import { plural, uncapital } from '../format.ts';
import { axisSource, turner } from '../calibration/axes.ts';
import { AxisFinder } from '../calibration/grid.ts';
import type { Requirement } from '../correction/estimate.ts';
import { LOADED } from '../correction/samples.ts';
import { median } from '../stats/stats.ts';
import type { NextDrive } from './proposal.ts';

/** Drives named at most. */
const MOST = 5;
/** Steps that a path is cut into. */
const STEPS = 40;
/** A cell that is known this well is settled, share. */
const SETTLED = 0.02;
/** Certainty that a drive has to bring to be worth naming: summed fall of the standard deviations, percent. */
const WORTH_PCT = 2;
const PULL_S = 6;
const PULL_GEAR = 3;
const PULLS = 2;
const STEADY_S = 20;
const STEADY_RPM = 500;
/** A drive takes its own time and that of getting there, seconds. */
const OVERHEAD_S = { pull: 40, cruise: 5, light: 10, medium: 15 } as const;
/** Manifold pressure as a share of the outside air: below, cruise; then light; then medium load. */
const LIGHT_FROM = 0.55;
const MEDIUM_FROM = 0.75;
const LOADED_FROM = 0.88;
const LOWEST_LOAD = 0.3;
/** Engine speeds of steady driving: from so much over idle to so much of the limit. */
const STEADY_SPAN = [1.7, 0.62] as const;
const PULL_SPAN = [0.36, 0.93] as const;
const IDLE_RPM = 800;

interface Candidate extends Omit<NextDrive, 'gainPct' | 'cells' | 'why'> {
	/** Seconds at each node of a table. */
	at: Map<number, number>;
	totalS: number;
}

/** @returns best first; empty where nothing is open, or the table isn't read by engine speed and pressure */
export function nextDrives(r: Requirement): NextDrive[] {
	const table = r.nodes.tables[0];
	const input = r.speaking[0];
	if (!table?.y || !input || axisSource(table.x) !== 'rpm' || axisSource(table.y) !== 'map') return [];
	const candidates = [...pulls(r), ...steady(r)];
	const sd = Float64Array.from(r.field.sd);
	const { sigma, scaleS } = r.field.noise;
	const floor = r.field.day;
	const out: NextDrive[] = [];
	const after = (i: number, seconds: number, band: 0 | 1) => {
		const known = 1 / sd[i]! ** 2 + seconds / scaleS[band] / sigma[band] ** 2;
		return Math.min(sd[i]!, Math.max(floor, 1 / Math.sqrt(known)));
	};
	while (out.length < MOST && candidates.length) {
		const judged = candidates.map((c) => {
			const band = c.kind === 'pull' ? LOADED : 0;
			let gain = 0;
			let cells = 0;
			for (const [i, seconds] of c.at) {
				if (sd[i]! <= SETTLED) continue;
				const next = after(i, seconds, band);
				gain += sd[i]! - next;
				if (next <= SETTLED) cells++;
			}
			return { c, gain: 100 * gain, cells, rate: gain / c.totalS };
		});
		const best = judged.reduce((a, b) => (b.rate > a.rate ? b : a));
		if (best.gain < WORTH_PCT || best.cells === 0) break;
		const { at, totalS, ...drive } = best.c;
		out.push({
			...drive,
			gainPct: Math.round((10 * best.gain * 60) / totalS) / 10,
			cells: best.cells,
			why: whyOf(drive.kind, best.cells)
		});
		for (const [i, seconds] of at) sd[i] = after(i, seconds, drive.kind === 'pull' ? LOADED : 0);
		candidates.splice(candidates.indexOf(best.c), 1);
	}
	return out;
}

function whyOf(kind: NextDrive['kind'], cells: number): string {
	const where = kind === 'pull' ? 'under load' : `at ${uncapital(kind)}`;
	return `settles ${plural(cells, 'cell')} ${where}: lean, and fuel goes in at once; rich, and it comes out as far as is certain; right, and they stay`;
}

/** Seconds at the nodes along a path of engine speed and load, each point of it for the same time. */
function along(r: Requirement, path: readonly (readonly [rpm: number, load: number])[], seconds: number) {
	const table = r.nodes.tables[0]!;
	const fx = new AxisFinder(table.x.points);
	const fy = new AxisFinder(table.y!.points);
	const out = new Map<number, number>();
	for (const [rpm, load] of path) {
		const px = fx.find(rpm);
		const [cx, tx] = [px.i, px.t];
		const { i: cy, t: ty } = fy.find(load);
		for (const [dx, wx] of [
			[0, 1 - tx],
			[1, tx]
		] as const)
			for (const [dy, wy] of [
				[0, 1 - ty],
				[1, ty]
			] as const) {
				if (wx * wy <= 0) continue;
				const node = table.first + (cy + dy) * table.nx + cx + dx;
				out.set(node, (out.get(node) ?? 0) + (wx * wy * seconds) / path.length);
			}
	}
	return out;
}

/** Full throttle through the gear that was pulled, at the load that it had, or in third at the air outside. */
function pulls(r: Requirement): Candidate[] {
	const { vehicle, segments } = r.speaking[0]!;
	const table = r.nodes.tables[0]!;
	const limit = vehicle.engine.revLimitRpm;
	const driven = r.speaking.flatMap((i) =>
		i.segments.pulls.map((p) => ({ gear: p.gear, s: p.toS - p.fromS }))
	);
	const gears = vehicle.transmission?.gears ?? [];
	const usual =
		driven.find((d) => d.gear !== undefined)?.gear ?? Math.min(PULL_GEAR, gears.length || PULL_GEAR);
	const seconds = driven.length ? median(driven.map((d) => d.s)) : PULL_S;
	const toLoad = turner({ channel: 'map' }, table.y!, segments.baroKpa)!;
	const atFull = fullLoads(r);
	const path = Array.from({ length: STEPS }, (_, k) => {
		const rpm = limit * (PULL_SPAN[0] + ((PULL_SPAN[1] - PULL_SPAN[0]) * k) / (STEPS - 1));
		return [rpm, atFull(rpm) ?? toLoad(segments.baroKpa)] as const;
	});
	const span = (k: 0 | 1): [number, number] => {
		const all = path.map((p) => p[k]);
		return [Math.round(Math.min(...all)), Math.round(Math.max(...all))];
	};
	return [
		{
			kind: 'pull',
			gear: usual,
			rpm: span(0),
			load: span(1),
			seconds: Math.round(seconds),
			count: PULLS,
			at: along(r, path, seconds * PULLS),
			totalS: PULLS * (seconds + OVERHEAD_S.pull)
		}
	];
}

/** Load under full throttle by engine speed, as the logs had it within 400 rpm; `null` where they didn't. */
function fullLoads({ samples: s }: Requirement): (rpm: number) => number | null {
	const pulled: number[] = [];
	for (let i = 0; i < s.count; i++) if (s.pull[i]! >= 0) pulled.push(i);
	// In order of speed: what is within reach of one stands together.
	pulled.sort((p, q) => s.x[p]! - s.x[q]!);
	const speeds = Float32Array.from(pulled, (i) => s.x[i]!);
	return (rpm) => {
		const near = pulled.slice(bisectRight(speeds, rpm - 400), bisectLeft(speeds, rpm + 400));
		return near.length > 4 ? median(near.map((i) => s.y[i]!)) : null;
	};
}

/** Steady driving at every 500 rpm and every row of load below full. */
function steady(r: Requirement): Candidate[] {
	const { vehicle, segments } = r.speaking[0]!;
	const table = r.nodes.tables[0]!;
	const toKpa = turner(table.y!, { channel: 'map' }, segments.baroKpa)!;
	const idle = vehicle.engine.idleRpm ?? IDLE_RPM;
	const out: Candidate[] = [];
	const top = vehicle.engine.revLimitRpm * STEADY_SPAN[1];
	for (let rpm = Math.ceil((idle * STEADY_SPAN[0]) / STEADY_RPM) * STEADY_RPM; rpm <= top; rpm += STEADY_RPM)
		for (const load of table.y!.points) {
			const share = toKpa(load) / segments.baroKpa;
			if (share < LOWEST_LOAD || share > LOADED_FROM) continue;
			const kind = share < LIGHT_FROM ? 'cruise' : share < MEDIUM_FROM ? 'light' : 'medium';
			const path = Array.from(
				{ length: STEPS },
				(_, k) => [rpm + (k / STEPS - 0.5) * STEADY_RPM, load] as const
			);
			out.push({
				kind,
				rpm: [rpm - STEADY_RPM / 2, rpm + STEADY_RPM / 2],
				load: [load, load],
				seconds: STEADY_S,
				count: 1,
				at: along(r, path, STEADY_S),
				totalS: STEADY_S + OVERHEAD_S[kind]
			});
		}
	return out;
}
