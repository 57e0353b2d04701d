/** Samples over a made-up table with a known requirement, for tests of the field. */
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { Surface } from '../calibration/grid.ts';
import { Rng } from '../stats/rng.ts';
import { nodesOf, type Nodes } from '../correction/nodes.ts';
import type { Samples } from '../correction/samples.ts';

export const RPM = [500, 1000, 1500, 2000, 2500, 3000, 3500, 4000, 4500, 5000, 5500, 6000, 6500, 7000];
export const KPA = [20, 30, 40, 50, 60, 70, 80, 90, 100, 120, 140, 160, 180, 200];

/** A table that rises with engine speed and a little with pressure. */
export const table = (x = RPM, y = KPA): number[][] =>
	y.map((_, r) =>
		x.map(
			(_, c) => (40 + (55 * r) / Math.max(1, y.length - 1)) * (0.8 + (0.3 * c) / Math.max(1, x.length - 1))
		)
	);

export function calibrationOf(values = table(), x = RPM, y = KPA): Calibration {
	return parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'made',
		fuelModel: 'speed-density',
		items: [
			{
				id: 'fuel.table',
				kind: 'map',
				unit: '%',
				x: { channel: 'rpm', unit: 'rpm', points: x },
				y: { channel: 'map', unit: 'kPa', points: y },
				values
			}
		]
	});
}

export interface Trial {
	/** What the engine wants per node, share; of the whole table. */
	truth: number[][];
	sigma: number;
	/** Correlation of neighbouring samples at 20 Hz. */
	ar?: number;
	/** Of each log; one log where there is one. */
	offsets?: number[];
	/** Readings are rounded to this, share. */
	quantum?: number;
	rateHz?: number;
	seed: number;
	x?: number[];
	y?: number[];
	/** Seconds of part throttle. */
	cruiseS?: number;
}

/** Part throttle wandering about, then two pulls through the top row but one. */
export function trial(t: Trial): { samples: Samples; nodes: Nodes; calibration: Calibration } {
	const { truth, sigma, ar = 0, offsets = [0], quantum = 0, rateHz = 20, seed, x = RPM, y = KPA } = t;
	const values = table(x, y);
	const calibration = calibrationOf(values, x, y);
	const nodes = nodesOf(calibration);
	const had = new Surface(x, y, values);
	const wants = new Surface(
		x,
		y,
		values.map((row, r) => row.map((v, c) => v * (1 + truth[r]![c]!)))
	);
	const rng = new Rng(seed);
	const dt = 1 / rateHz;
	// The same noise in time at any rate: correlation per 0.05 s.
	const rho = ar ** (dt / 0.05);
	const rows: {
		log: number;
		x: number;
		y: number;
		t: number;
		loaded: boolean;
		pull: number;
		offset: number;
	}[] = [];
	for (const [log, offset] of offsets.entries()) {
		let now = 0;
		const push = (rpm: number, kpa: number, loaded: boolean, pull: number) => {
			rows.push({ log, x: rpm, y: kpa, t: (now += dt), loaded, pull, offset });
		};
		for (let i = 0; i < (t.cruiseS ?? 400) * rateHz; i++)
			push(2200 + 600 * Math.sin(now / 17), 45 + 15 * Math.sin(now / 11), false, -1);
		for (let p = 0; p < 2; p++) {
			now += 20;
			const n = Math.round(5.5 * rateHz);
			for (let i = 0; i < n; i++) push(2600 + (4000 * i) / (n - 1), 182 + 1.5 * rng.normal(), true, p);
		}
	}
	let e = 0;
	const count = rows.length;
	const out: Samples = {
		count,
		log: new Uint16Array(count),
		z: new Float32Array(count),
		band: new Uint8Array(count),
		timeS: new Float64Array(count),
		dtS: new Float32Array(count).fill(dt),
		pull: new Int16Array(count),
		index: new Int32Array(count),
		x: new Float32Array(count),
		y: new Float32Array(count),
		start: new Int32Array(count + 1),
		node: new Int32Array(count * 4),
		a: new Float32Array(count * 4),
		b: new Float32Array(count * 4),
		lagS: [0.15, 0.15],
		stepS: dt
	};
	let entries = 0;
	rows.forEach((row, i) => {
		e = rho * e + Math.sqrt(1 - rho * rho) * sigma * rng.normal();
		const raw = (wants.at(row.x, row.y) / had.at(row.x, row.y)) * (1 + e) - 1 + row.offset;
		out.log[i] = row.log;
		out.z[i] = quantum ? Math.round(raw / quantum) * quantum : raw;
		out.band[i] = row.loaded ? 1 : 0;
		out.timeS[i] = row.t;
		out.pull[i] = row.pull;
		out.index[i] = i;
		out.x[i] = row.x;
		out.y[i] = row.y;
		const px = had.x.find(row.x);
		const [cx, tx] = [px.i, px.t];
		const { i: cy, t: ty } = had.y.find(row.y);
		let total = 0;
		for (let q = 0; q < 4; q++) {
			const w = (q & 1 ? tx : 1 - tx) * (q & 2 ? ty : 1 - ty);
			const [r, c] = [cy + (q >> 1), cx + (q & 1)];
			if (w <= 0) continue;
			out.node[entries] = r * x.length + c;
			out.b[entries] = w;
			out.a[entries] = w * values[r]![c]!;
			total += out.a[entries]!;
			entries++;
		}
		for (let k = out.start[i]!; k < entries; k++) out.a[k]! /= total;
		out.start[i + 1] = entries;
	});
	return { samples: out, nodes, calibration };
}

export const flat = (v = 0, x = RPM, y = KPA): number[][] => y.map(() => x.map(() => v));
