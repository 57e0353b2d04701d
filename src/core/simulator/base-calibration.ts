/** A baseline calibration for a stand-in vehicle: right in shape, wrong by a chosen smooth error, as a first file is. */
import type { Calibration, FuelModel, Item } from '../calibration/document.ts';
import { densityOfBlend, stoichOfBlend } from '../units/fuel.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { flowOfMafHz, knockLimitDeg, mafHz, trueVePct } from './truth.ts';

export interface BaseOptions {
	vehicle: Vehicle;
	fuelModel: FuelModel;
	name: string;
	/** Relative error of the fuel table by share of engine speed and of load (both 0–1). */
	fuelError?: (rpmShare: number, loadShare: number) => number;
	/** Degrees below the knock limit that full-load timing is set to; negative asks for knock. */
	timingMarginDeg?: number;
	/** Full boost, kPa absolute. */
	boostKpa?: number;
}

export function shapeOf(name: string): number {
	let h = 7;
	for (const c of name) h = (h * 31 + c.charCodeAt(0)) % 6283;
	return h / 1000;
}

export function baseCalibration(o: BaseOptions): Calibration {
	const { vehicle } = o;
	const top = vehicle.engine.revLimitRpm;
	const boosted = vehicle.engine.aspiration !== 'na';
	const boost = o.boostKpa ?? 160;
	const shape = shapeOf(vehicle.name);
	const rpm: number[] = [];
	for (let r = 500; r <= top + 500; r += 500) rpm.push(r);
	const kpa = [
		20,
		30,
		40,
		50,
		60,
		70,
		80,
		90,
		100,
		...(boosted ? [120, 140, 160, 180, 200].filter((k) => k <= boost + 20) : [])
	];
	const litres = vehicle.engine.displacementL ?? 2;
	const cylinderL = litres / vehicle.engine.cylinders;
	const error = o.fuelError ?? (() => 0);
	const share = (k: number) => (k - 20) / (kpa[kpa.length - 1]! - 20);
	const target = (r: number, k: number) =>
		k > 105 ? Math.max(0.78, 0.86 - (k - 105) * 0.0009) : k > 88 ? 0.88 : k > 78 && r > 3500 ? 0.94 : 1;
	const map = (
		id: string,
		title: string,
		group: string,
		unit: string,
		decimals: number,
		value: (r: number, k: number) => number
	): Item => ({
		id,
		kind: 'map',
		title,
		group,
		unit,
		decimals,
		x: { channel: 'rpm', unit: 'rpm', points: rpm },
		y: { channel: 'map', unit: 'kPa', points: kpa },
		values: kpa.map((k) => rpm.map((r) => round(value(r, k), decimals)))
	});
	const items: Item[] = [];
	const iatK = (k: number) => 273.15 + 30 + Math.max(0, k - 100) * 0.16;
	const airG = (r: number, k: number) =>
		((trueVePct(vehicle, shape, r, k) / 100) * k * cylinderL * 1000) / (287.05 * iatK(k));
	const ethanol = vehicle.fuel?.ethanolPct ?? 0;
	const flowPerMs = ((vehicle.injectors?.flowCcMin ?? 500) * densityOfBlend(ethanol)) / 60000;
	if (o.fuelModel === 'speed-density')
		items.push(
			map(
				'fuel.table',
				'Volumetric efficiency',
				'Fuel',
				'%',
				2,
				(r, k) => trueVePct(vehicle, shape, r, k) * (1 + error(r / top, share(k)))
			)
		);
	else if (o.fuelModel === 'pulse-width') {
		const pulse = (r: number, k: number) => airG(r, k) / (target(r, k) * stoichOfBlend(ethanol)) / flowPerMs;
		const reference = round(pulse(top * 0.6, kpa[kpa.length - 1]!), 1);
		items.push({
			id: 'fuel.referencePulse',
			kind: 'scalar',
			title: 'Reference pulse',
			group: 'Fuel',
			unit: 'ms',
			value: reference
		});
		items.push({
			id: 'fuel.mapScaling',
			kind: 'setting',
			title: 'Pulse follows pressure',
			group: 'Fuel',
			value: 'none'
		});
		items.push(
			map(
				'fuel.table',
				'Share of the reference pulse',
				'Fuel',
				'%',
				2,
				(r, k) => ((100 * pulse(r, k)) / reference) * (1 + error(r / top, share(k)))
			)
		);
	} else {
		// To the flow of the whole engine at its top, full boost and a little more: an air meter is chosen for that.
		const mostGs = (1.1 * airG(top, kpa[kpa.length - 1]!) * vehicle.engine.cylinders * top) / 120;
		const stepHz = Math.max(320, Math.ceil((mafHz(mostGs) - 1400) / 23));
		const points = Array.from({ length: 24 }, (_, i) => 1400 + i * stepHz);
		items.push({
			id: 'maf.curve',
			kind: 'curve',
			title: 'Air meter',
			group: 'Fuel',
			unit: 'g/s',
			decimals: 2,
			x: { channel: 'mafFrequency', unit: 'Hz', points },
			values: points.map((hz, i) => round(flowOfMafHz(hz) * (1 + error(i / 23, i / 23)), 2))
		});
	}
	items.push({ id: 'fuel.trim', kind: 'scalar', title: 'Global trim', group: 'Fuel', unit: '%', value: 0 });
	items.push(map('lambda.target', 'Lambda target', 'Fuel', 'λ', 3, target));
	items.push(
		map('spark.table', 'Timing', 'Timing', '°BTDC', 1, (r, k) => {
			const limit = knockLimitDeg(
				vehicle,
				vehicle.fuel?.octaneRon ?? 98,
				r,
				airG(r, k) / cylinderL,
				35,
				target(r, k)
			);
			const margin = o.timingMarginDeg ?? 2.5;
			return Math.max(4, Math.min(38, 10 + r / 180, limit - (k > 75 ? margin : margin + 4)));
		})
	);
	if (boosted)
		items.push({
			id: 'boost.target',
			kind: 'curve',
			title: 'Boost set point',
			group: 'Boost',
			unit: 'kPa',
			decimals: 0,
			x: { channel: 'rpm', unit: 'rpm', points: rpm },
			values: rpm.map((r) => round(100 + (boost - 100) * Math.min(1, Math.max(0, (r - 1500) / 1500)), 0))
		});
	items.push(
		{ id: 'limit.rpm', kind: 'scalar', title: 'Rev limit', group: 'Limits', unit: 'rpm', value: top },
		...(boosted
			? [
					{
						id: 'limit.boost',
						kind: 'scalar' as const,
						title: 'Boost limit',
						group: 'Limits',
						unit: 'kPa',
						value: boost + 20
					}
				]
			: []),
		{ id: 'knock.enabled', kind: 'setting', title: 'Knock control', group: 'Knock', value: true },
		{
			id: 'knock.sensitivity',
			kind: 'scalar',
			title: 'Knock sensitivity',
			group: 'Knock',
			unit: '%',
			value: 100
		},
		{
			id: 'injector.flow',
			kind: 'scalar',
			title: 'Injector flow',
			group: 'Injectors',
			unit: 'cc/min',
			value: vehicle.injectors?.flowCcMin ?? 500
		},
		{
			id: 'injector.deadTime',
			kind: 'curve',
			title: 'Injector dead time',
			group: 'Injectors',
			unit: 'ms',
			decimals: 2,
			x: {
				channel: 'vbat',
				unit: 'V',
				points: (
					vehicle.injectors?.deadTimeMs ?? [
						[8, 2.5],
						[12, 1.2],
						[14, 0.9],
						[16, 0.7]
					]
				).map((d) => d[0])
			},
			values: (
				vehicle.injectors?.deadTimeMs ?? [
					[8, 2.5],
					[12, 1.2],
					[14, 0.9],
					[16, 0.7]
				]
			).map((d) => d[1])
		},
		{
			id: 'sensor.map',
			kind: 'setting',
			title: 'Pressure sensor',
			group: 'Sensors',
			value: 'linear 0.5 V = 10 kPa, 4.5 V = 300 kPa'
		},
		{ id: 'trigger.offset', kind: 'setting', title: 'Trigger offset', group: 'Sensors', value: 84 },
		{
			id: 'spark.baseVerified',
			kind: 'setting',
			title: 'Base timing verified',
			group: 'Timing',
			value: 'by the workshop, with a timing light'
		}
	);
	return {
		schema: 'tanto.calibration/1',
		name: o.name,
		vehicle: vehicle.name,
		fuelModel: o.fuelModel,
		items
	};
}

function round(v: number, decimals: number): number {
	const f = 10 ** decimals;
	return Math.round(v * f) / f;
}
