/**
 * No fuel comes out of a table on the word of a sensor that sees the mean of a bank, as long as one of its cylinders is leaner than that mean:
 * what the others have too much is what that one lives on. Lambda by cylinder says by how much.
 */
import { derived } from '../logfile/columns.ts';
import { aligned } from '../evidence/lambda/lag.ts';
import { certainly, type Place } from '../evidence/cells/places.ts';
import { placesUnderLoad } from '../evidence/cells/under-load.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { cylindersByBank } from '../vehicle/facts.ts';
import type { FuelTable, Nodes } from './nodes.ts';
import { LOADED, type Samples } from './samples.ts';

/** Cylinders within this of the mean of their bank are as good as the mean, share. */
const GOOD = 0.01;
/** Fewer than this many cylinders seen of a bank have no mean. */
const LEAST = 2;
const BIN_RPM = 250;

/** Of each cylinder that is logged, how much leaner than the mean of the seen ones of its bank it is under load, by place. */
export function offFromBank(input: Prepared): Map<number, Place[]> {
	const { frame, believed, vehicle } = input;
	const out = new Map<number, Place[]>();
	const all = Array.from({ length: vehicle.engine.cylinders }, (_, k) => k + 1);
	for (const members of cylindersByBank(vehicle) ?? [all]) {
		const seen = members.flatMap((cylinder) => {
			const raw = frame.get(`lambda.cyl${cylinder}`);
			return raw ? [{ cylinder, lambda: aligned(raw, frame.timeS, believed.lagS) }] : [];
		});
		if (seen.length < LEAST) continue;
		const mean = new Float32Array(frame.length);
		for (let i = 0; i < mean.length; i++) {
			let sum = 0;
			for (const s of seen) sum += s.lambda[i]!;
			mean[i] = sum / seen.length;
		}
		for (const { cylinder, lambda } of seen) {
			const value = derived(lambda, (l, i) => (l > 0 && mean[i]! > 0 ? l / mean[i]! - 1 : Number.NaN));
			out.set(cylinder, placesUnderLoad(input, value));
		}
	}
	return out;
}

/**
 * Fuel that has to stay in at each node, as a share of its value, so that no cylinder becomes leaner than its bank was.
 * @param logs behind the samples, in the order of their indices
 * @param given percent that the trim of a cylinder is raised by at the same time; 0 for those not named
 */
export function leanCylinderNodes(
	logs: readonly Prepared[],
	s: Samples,
	nodes: Nodes,
	given: ReadonlyMap<number, number>
): Float64Array {
	const out = new Float64Array(nodes.count);
	const driven = new Uint8Array(nodes.count);
	const byRpm = logs.map((input) => {
		const bins: number[] = [];
		for (const [cylinder, places] of offFromBank(input))
			for (const p of places) {
				const left = (1 + p.mean) / (1 + (given.get(cylinder) ?? 0) / 100) - 1;
				if (certainly(p) <= 0 || left < GOOD) continue;
				for (let b = p.rpm[0] / BIN_RPM; b < p.rpm[1] / BIN_RPM; b++) bins[b] = Math.max(bins[b] ?? 0, left);
			}
		return bins;
	});
	if (byRpm.every((bins) => bins.length === 0)) return out;
	const rpms = logs.map((l) => l.frame.get('rpm'));
	for (let i = 0; i < s.count; i++) {
		const log = s.log[i]!;
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) driven[s.node[e]!] = 1;
		if (s.band[i] !== LOADED) continue;
		const left = byRpm[log]![Math.floor((rpms[log]?.[s.index[i]!] ?? 0) / BIN_RPM)];
		if (left === undefined) continue;
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) out[s.node[e]!] = Math.max(out[s.node[e]!]!, left);
	}
	for (const t of nodes.tables) takeAlong(out, driven, t);
	return out;
}

/** A node that nobody drove is changed as its neighbours are: it keeps what they keep. */
function takeAlong(out: Float64Array, driven: Uint8Array, { first, nx, ny }: FuelTable): void {
	const own = out.slice(first, first + nx * ny);
	for (let r = 0; r < ny; r++)
		for (let c = 0; c < nx; c++) {
			const i = r * nx + c;
			if (driven[first + i]) continue;
			const around = [
				...(c > 0 ? [own[i - 1]!] : []),
				...(c + 1 < nx ? [own[i + 1]!] : []),
				...(r > 0 ? [own[i - nx]!] : []),
				...(r + 1 < ny ? [own[i + nx]!] : [])
			];
			out[first + i] = Math.max(own[i]!, ...around);
		}
}
