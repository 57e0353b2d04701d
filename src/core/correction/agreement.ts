/** Where two independent witnesses of the mixture agree: only there fuel comes out in larger steps. */
import type { Prepared } from '../evidence/prepared.ts';
import type { Witness } from '../evidence/lambda/witnesses.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { bankCount } from '../vehicle/facts.ts';
import type { Samples } from './samples.ts';

const AGREE = 0.02;
const LEAST_S = 0.5;
/** Exhaust pressure stands behind the engine from about here on, kPa over the air outside. */
const BACK_PRESSURE_KPA = 5;

/** A sensor that is said not to be compensated reads rich under exhaust pressure; a witness is, where all of its sensors are. */
const uncompensated = (w: Witness, vehicle: Vehicle): boolean =>
	w.channels.every(
		(c) => vehicle.sensors?.lambda?.find((s) => s.channel === c)?.pressureCompensated === false
	);

/** @returns one per node, 1 where the witnesses of every path that was compared agree within 2 % */
export function agreedNodes(logs: readonly Prepared[], s: Samples, nodes: number): Uint8Array {
	const out = new Uint8Array(nodes);
	const disputed = new Uint8Array(nodes);
	for (const [l, input] of logs.entries()) {
		const { believed, vehicle, frame, segments } = input;
		const map = frame.get('map');
		// Samples of a log lie side by side.
		const from = s.log.indexOf(l);
		const to = s.log.lastIndexOf(l) + 1;
		if (from < 0) continue;
		const paths = believed.paths;
		const whole = paths.some((p) => p.bank === 0) || paths.length === bankCount(vehicle);
		if (!whole) continue;
		for (const path of paths) {
			// Of three, the two that are closest over this log: the odd one is named elsewhere.
			const pairs = path.witnesses.flatMap((a, i) => path.witnesses.slice(i + 1).map((b) => [a, b] as const));
			const judged = pairs.map(([a, b]) => {
				const under = uncompensated(a, vehicle) && uncompensated(b, vehicle);
				const sum = new Float64Array(nodes);
				const weight = new Float64Array(nodes);
				let off = 0;
				let seen = 0;
				for (let i = from; i < to; i++) {
					const at = s.index[i]!;
					if (under && map && map[at]! > segments.baroKpa + BACK_PRESSURE_KPA) continue;
					const d = a.values[at]! / b.values[at]! - 1;
					if (d !== d) continue;
					off += Math.abs(d);
					seen++;
					for (let e = s.start[i]!; e < s.start[i + 1]!; e++) {
						const w = s.b[e]! * s.dtS[i]!;
						sum[s.node[e]!]! += w * d;
						weight[s.node[e]!]! += w;
					}
				}
				// A pair that was never compared agrees about nothing.
				return { off: seen ? off / seen : Infinity, sum, weight };
			});
			const best = judged.reduce((a, b) => (b.off < a.off ? b : a));
			for (let n = 0; n < nodes; n++) {
				if (best.weight[n]! < LEAST_S) continue;
				if (Math.abs(best.sum[n]! / best.weight[n]!) <= AGREE) out[n] = 1;
				else disputed[n] = 1;
			}
		}
	}
	return out.map((v, n) => (disputed[n] ? 0 : v));
}
