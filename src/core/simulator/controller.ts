/**
 * The stand-in's engine controller: reads a calibration and asks for pulse width, timing and boost as the fuel models of the
 * calibration format say. Interpolates by itself, so that it shares no computation with what judges its logs.
 */
import type { Calibration, CurveItem, Item, MapItem } from '../calibration/document.ts';
import { densityOfBlend, stoichOfBlend } from '../units/fuel.ts';
import type { Vehicle } from '../vehicle/document.ts';

export function lerp(points: readonly number[], values: readonly number[], v: number): number {
	const n = points.length;
	if (v <= points[0]!) return values[0]!;
	if (v >= points[n - 1]!) return values[n - 1]!;
	let i = 0;
	while (points[i + 1]! < v) i++;
	const t = (v - points[i]!) / (points[i + 1]! - points[i]!);
	return values[i]! * (1 - t) + values[i + 1]! * t;
}

function table(item: MapItem, x: number, y: number): number {
	const column = item.values.map((row) => lerp(item.x.points, row, x));
	return lerp(item.y.points, column, y);
}

export interface Sensed {
	rpm: number;
	mapKpa: number;
	tpsPct: number;
	iatC: number;
	vbat: number;
	/** Frequency of the air meter. */
	mafHz: number;
	/** g per cylinder as the chosen model sees it is computed inside. */
	fuelDeltaKpa: number;
}

export interface Command {
	pulseMs: number;
	deadTimeMs: number;
	lambdaTarget: number;
	sparkDeg: number;
	boostKpa: number;
	/** Air that the controller believes in, g per cylinder. */
	airmassG: number;
	/** What its air model makes of it, g/s, beside whatever the fuel is computed from; `null` without one. */
	modelGs: number | null;
}

/** Intake air at which the table of the air model holds, K. */
const REFERENCE_K = 293.15;

export class Controller {
	private readonly items: Map<string, Item>;
	readonly stoich: number;
	readonly density: number;
	readonly flowCcMin: number;
	readonly ratedKpa: number;

	constructor(
		private readonly calibration: Calibration,
		private readonly vehicle: Vehicle
	) {
		this.items = new Map(calibration.items.map((i) => [i.id, i]));
		const ethanol = vehicle.fuel?.ethanolPct ?? 0;
		this.stoich = vehicle.fuel?.stoich ?? stoichOfBlend(ethanol);
		this.density = densityOfBlend(ethanol);
		this.flowCcMin = this.number('injector.flow') ?? vehicle.injectors?.flowCcMin ?? 500;
		this.ratedKpa = vehicle.injectors?.ratedPressureKpa ?? 300;
	}

	private number(id: string): number | null {
		const i = this.items.get(id);
		if (i?.kind === 'scalar') return i.value;
		if (i?.kind !== 'setting' || typeof i.value === 'boolean') return null;
		const v = Number.parseFloat(String(i.value));
		return Number.isFinite(v) ? v : null;
	}

	private map(id: string): MapItem | null {
		const i = this.items.get(id);
		return i?.kind === 'map' ? i : null;
	}

	private curve(id: string): CurveItem | null {
		const i = this.items.get(id);
		return i?.kind === 'curve' ? i : null;
	}

	private lookup(id: string, s: Sensed, airmassG: number): number | null {
		const m = this.map(id);
		if (!m) return null;
		const axis = (channel: string) =>
			channel === 'rpm'
				? s.rpm
				: channel === 'map'
					? s.mapKpa
					: channel === 'tps'
						? s.tpsPct
						: channel === 'airmass'
							? airmassG
							: s.mapKpa / 100;
		return table(m, axis(m.x.channel), axis(m.y.channel));
	}

	/** Whether it reckons the air with a table beside what its fuel is computed from. */
	get modelsAir(): boolean {
		return this.items.has('air.model');
	}

	/** Grams of fuel that an open injector delivers per millisecond. */
	flowPerMs(deltaKpa: number): number {
		return ((this.flowCcMin * this.density) / 60000) * Math.sqrt(Math.max(1, deltaKpa) / this.ratedKpa);
	}

	command(s: Sensed): Command {
		const { engine, injectors } = this.vehicle;
		const cylinderL = (engine.displacementL ?? 2) / engine.cylinders;
		const dead = this.curve('injector.deadTime');
		const deadTimeMs = dead
			? lerp(dead.x.points, dead.values, s.vbat)
			: lerp(
					(injectors?.deadTimeMs ?? [[14, 0.9]]).map((d) => d[0]),
					(injectors?.deadTimeMs ?? [[14, 0.9]]).map((d) => d[1]),
					s.vbat
				);
		const densityAir = (s.mapKpa * cylinderL * 1000) / (287.05 * (s.iatC + 273.15));
		const trim = 1 + (this.number('fuel.trim') ?? 0) / 100;
		let airmassG: number;
		let pulse: number;
		const model = this.calibration.fuelModel;
		if (model === 'maf') {
			const curve = this.curve('maf.curve');
			const flow = curve ? lerp(curve.x.points, curve.values, s.mafHz) : 0;
			airmassG = s.rpm > 0 ? (flow * 120) / (s.rpm * engine.cylinders) : 0;
		} else if (model === 'speed-density') {
			airmassG = ((this.lookup('fuel.table', s, densityAir) ?? 80) / 100) * densityAir;
		} else airmassG = densityAir * 0.85;
		const lambdaTarget = this.lookup('lambda.target', s, airmassG) ?? 1;
		if (model === 'pulse-width') {
			const scaling = this.number('fuel.mapScaling');
			pulse =
				(this.number('fuel.referencePulse') ?? 10) *
				((this.lookup('fuel.table', s, airmassG) ?? 50) / 100) *
				(scaling ? s.mapKpa / scaling : 1) *
				trim *
				// The controller's own correction for the density of the intake air.
				Math.sqrt(293.15 / (s.iatC + 273.15));
		} else pulse = ((airmassG / (lambdaTarget * this.stoich)) * trim) / this.flowPerMs(s.fuelDeltaKpa);
		const modelled = this.lookup('air.model', s, airmassG);
		const boost = this.items.get('boost.target');
		const boostKpa =
			boost?.kind === 'curve'
				? lerp(boost.x.points, boost.values, s.rpm)
				: (this.lookup('boost.target', s, airmassG) ?? 101);
		return {
			pulseMs: pulse + deadTimeMs,
			deadTimeMs,
			lambdaTarget,
			sparkDeg: this.lookup('spark.table', s, airmassG) ?? 15,
			boostKpa,
			airmassG,
			modelGs: modelled === null ? null : (modelled * REFERENCE_K) / (s.iatC + 273.15)
		};
	}

	get revLimitRpm(): number {
		return this.number('limit.rpm') ?? this.vehicle.engine.revLimitRpm;
	}
}
