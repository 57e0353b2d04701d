/** Which gear the car was in: from its channel, else from the clusters of engine speed over road speed. */
import type { Frame } from '../../logfile/frame.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import { gearRatios } from '../../vehicle/facts.ts';

/** Neighbouring gears differ by at least this much (close-ratio boxes go down to 6 %). */
const CLUSTER_STEP = 0.06;
const WITHIN = 0.05;

/** Clusters of rpm/speed in a log, lowest gear (highest ratio) first; they count up from 1 whatever their true number. */
function clusters(rpm: Float32Array, speed: Float32Array): number[] {
	const width = 0.01;
	const low = Math.log(5);
	const bins = new Float64Array(Math.ceil((Math.log(1000) - low) / width));
	let total = 0;
	for (let i = 0; i < rpm.length; i++) {
		if (!(rpm[i]! > 1000) || !(speed[i]! > 10)) continue;
		const b = Math.floor((Math.log(rpm[i]! / speed[i]!) - low) / width);
		if (b >= 0 && b < bins.length) {
			bins[b]!++;
			total++;
		}
	}
	const found: { ratio: number; count: number }[] = [];
	for (let b = 2; b + 2 < bins.length; b++) {
		const near = bins[b - 2]! + bins[b - 1]! + bins[b]! + bins[b + 1]! + bins[b + 2]!;
		if (near < Math.max(10, total * 0.01) || bins[b]! < bins[b - 1]! || bins[b]! < bins[b + 1]!) continue;
		const ratio = Math.exp(low + (b + 0.5) * width);
		const rival = found[found.length - 1];
		if (rival && Math.log(ratio / rival.ratio) < CLUSTER_STEP) {
			if (near > rival.count) found[found.length - 1] = { ratio, count: near };
		} else found.push({ ratio, count: near });
	}
	return found.map((f) => f.ratio).reverse();
}

/** Gear per sample, 0 where none is engaged or known; `null` when the log can't tell. */
export function gearOfSamples(frame: Frame, vehicle: Vehicle): Int8Array | null {
	const logged = frame.get('gear');
	const n = frame.length;
	const out = new Int8Array(n);
	if (logged) {
		for (let i = 0; i < n; i++) if (logged[i]! > 0) out[i] = Math.round(logged[i]!);
		return out;
	}
	const rpm = frame.get('rpm');
	const speed = frame.get('speed');
	if (!rpm || !speed) return null;
	const ratios = gearRatios(vehicle) ?? clusters(rpm, speed);
	for (let i = 0; i < n; i++) {
		if (!(speed[i]! > 5)) continue;
		const ratio = rpm[i]! / speed[i]!;
		let best = WITHIN;
		for (let g = 0; g < ratios.length; g++) {
			const off = Math.abs(ratio / ratios[g]! - 1);
			if (off < best) {
				best = off;
				out[i] = g + 1;
			}
		}
	}
	return out;
}
