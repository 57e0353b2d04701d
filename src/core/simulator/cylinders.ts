/**
 * The cylinders of the stand-in, each with its own mixture: what its injector gives of the command, the trim of its own, whether it burns.
 * A sensor of a bank sees the mean of its cylinders' gas.
 */
import type { Calibration, CurveItem, MapItem } from '../calibration/document.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { bankCount } from '../vehicle/facts.ts';
import { lerp } from './controller.ts';
import type { Faults } from './faults.ts';

export class Cylinders {
	/** Cylinders of each bank, from 0. */
	private readonly members: number[][];
	/** Percent that the controller adds to each, by engine speed where it goes by that. */
	private readonly trimPct: (cylinder: number, rpm: number) => number;
	/** Lambda of each cylinder over that of its bank with every injector as it should be; without the air of one that doesn't burn. */
	readonly relative: Float64Array;
	/** Lambda that the sensor of each bank sees over the same. */
	readonly seen = new Float64Array(2).fill(1);
	/** What the air of a cylinder that doesn't burn makes of that, 1 without one: the others burn what they burn. */
	readonly unburnt = new Float64Array(2).fill(1);
	private readonly bySpeed: boolean;
	/** Nothing of it goes by engine speed or time, and it was worked out. */
	private settled = false;
	/** Share of the pull that is left. */
	pull = 1;

	constructor(
		vehicle: Vehicle,
		calibration: Calibration,
		private readonly faults: Faults
	) {
		const { cylinders, banks } = vehicle.engine;
		const all = Array.from({ length: cylinders }, (_, k) => k);
		const inSecond = (k: number) => banks?.[1]?.includes(k + 1) ?? k % 2 === 1;
		this.members = bankCount(vehicle) === 2 ? [all.filter((k) => !inSecond(k)), all.filter(inSecond)] : [all];
		const item = calibration.items.find((i) => i.id === 'fuel.cylTrim');
		this.bySpeed = item?.kind === 'map';
		this.trimPct = item && item.kind !== 'setting' && item.kind !== 'scalar' ? trimsOf(item) : () => 0;
		this.relative = new Float64Array(cylinders).fill(1);
	}

	/** Brings it to an engine speed. @param loaded at full load, where a weak ignition gives up */
	at(rpm: number, loaded: boolean, timeS: number): void {
		if (this.settled) return;
		const { leanCylinder: lean, deadCylinder: dead } = this.faults;
		const within = (range: readonly [number, number] | undefined) =>
			!range || (rpm >= range[0] && rpm < range[1]);
		this.pull = 1;
		this.relative.forEach((_, k) => {
			const off = lean?.cylinder === k + 1 && within(lean.rpm) ? 1 + lean.share : 1;
			this.relative[k] = off / (1 + this.trimPct(k + 1, rpm) / 100);
		});
		this.members.forEach((members, b) => {
			const mean = members.reduce((s, k) => s + this.relative[k]!, 0) / members.length;
			const out =
				dead && loaded && timeS >= dead.fromS && within(dead.rpm) && members.includes(dead.cylinder - 1);
			// What doesn't burn passes the sensor as air, and the others bring their own gas.
			this.unburnt[b] = out ? 1 + 1 / (members.length - 1) : 1;
			this.seen[b] = mean * this.unburnt[b]!;
			if (out) this.pull = 1 - 1 / this.relative.length;
		});
		this.settled = !dead && !lean?.rpm && !this.bySpeed;
	}

	bankOf(cylinder: number): number {
		return this.members.findIndex((m) => m.includes(cylinder));
	}
}

function trimsOf(item: CurveItem | MapItem): (cylinder: number, rpm: number) => number {
	if (item.kind === 'curve') return (cylinder) => item.values[item.x.points.indexOf(cylinder)] ?? 0;
	const across = item.x.channel === 'cylinder';
	const [cylinders, speeds] = across ? [item.x.points, item.y.points] : [item.y.points, item.x.points];
	return (cylinder, rpm) => {
		const k = cylinders.indexOf(cylinder);
		if (k < 0) return 0;
		return lerp(speeds, across ? item.values.map((row) => row[k]!) : item.values[k]!, rpm);
	};
}
