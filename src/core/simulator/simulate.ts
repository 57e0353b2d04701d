/**
 * The stand-in vehicle: vehicle + calibration + drive plan + hidden faults → a log. Small but physical: air by true volumetric
 * efficiency, fuel by what the calibration's model asks for and the injectors really deliver, lambda with transport delay and sensor
 * lag, closed-loop trims at part load, boost build-up, gears and road load, warm intake air, knock above a limit that depends on
 * timing, air, mixture and octane. For the demo and tests only.
 */
import { fixed } from '../format.ts';
import type { Calibration } from '../calibration/document.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { bankCount } from '../vehicle/facts.ts';
import { airOf, Car, clamp, DT, learnedAtLoad, measureLambda } from './car.ts';
import { Controller } from './controller.ts';
import { Cylinders } from './cylinders.ts';
import type { DriveStep } from './drive.ts';
import type { Faults } from './faults.ts';
import { reading } from './reading.ts';
import { Rng } from '../stats/rng.ts';
import { shapeOf } from './base-calibration.ts';
import { knockLimitDeg, mafHz, monitorLevel, torqueShare } from './truth.ts';

export interface SimOptions {
	vehicle: Vehicle;
	calibration: Calibration;
	drive: readonly DriveStep[];
	faults?: Faults;
	seed: number;
	rateHz: number;
	ambientC?: number;
	baroKpa?: number;
	/** A knock monitor of its own is logged beside the controller's sensor. */
	monitor?: boolean;
}

export interface SimLog {
	timeS: number[];
	/** Canonical id → values, one per time. */
	channels: Map<string, number[]>;
}

/** What a wideband shows in air, and a battery without an alternator. */
const IN_AIR = 1.9;
const AT_REST_V = 12.5;
const G_PER_KWH_AIR_J = 1010; // work per gram of air at best timing, J: 33 % of the petrol that burns with it

export function simulate(options: SimOptions): SimLog {
	const { vehicle, calibration, faults = {}, rateHz } = options;
	const baro = options.baroKpa ?? 100;
	const ambient = options.ambientC ?? 20;
	const rng = new Rng(options.seed);
	const ecu = new Controller(calibration, vehicle);
	const idle = vehicle.engine.idleRpm ?? 850;
	const car = new Car(idle, baro, ambient);
	const gears = vehicle.transmission?.gears ?? [3.5, 2.1, 1.4, 1.0, 0.8];
	const final = vehicle.transmission?.finalDrive ?? 3.9;
	const tyre = vehicle.transmission?.tyreCircumferenceM ?? 1.95;
	const ratio = (g: number) => (1000 / 60 / tyre) * gears[Math.min(g, gears.length) - 1]! * final;
	const mass = vehicle.massKg ?? 1400;
	const drag = vehicle.dragAreaM2 ?? 0.66;
	const cylinders = vehicle.engine.cylinders;
	const litres = vehicle.engine.displacementL ?? 2;
	const banks = bankCount(vehicle);
	const octane = faults.octaneRon ?? vehicle.fuel?.octaneRon ?? 98;
	const base = vehicle.injectors?.basePressureKpa ?? 300;
	const reference = vehicle.injectors?.pressureReference ?? 'manifold';
	const aspirated = vehicle.engine.aspiration;
	const shape = shapeOf(vehicle.name);
	const out: SimLog = { timeS: [], channels: new Map() };
	const volts = faults.supplyV ?? 14.1;
	const each = new Cylinders(vehicle, calibration, faults);
	const misfires = new Array<number>(cylinders).fill(0);
	/** Unburnt oxygen of a misfire on its way past the sensor, share of a cylinder. */
	let unburnt = 0;
	let t = 0;
	let nextSample = 0;

	const record = (values: Record<string, number>) => {
		out.timeS.push(t);
		for (const [id, v] of Object.entries(values)) {
			let list = out.channels.get(id);
			if (!list) out.channels.set(id, (list = []));
			list.push(v);
		}
	};

	/** One time step at a pedal; `locked` when wheels and engine are connected. */
	const step = (pedal: number, gear: number, locked: boolean) => {
		car.gear = locked ? gear : 0;
		car.pedal += clamp(pedal - car.pedal, -400 * DT, 300 * DT);
		const open = car.rpm > 4500 ? Math.min(car.pedal, faults.throttleLimitPct ?? 100) : car.pedal;
		car.tps += (open - car.tps) * (DT / 0.06);
		const closed = car.tps < 2;
		// Air: what the throttle lets through, plus boost as far as the engine can make it.
		const needAir =
			26 + 74 * (1 - Math.exp(-(car.tps / 100) * (6 - 3.2 * (car.rpm / vehicle.engine.revLimitRpm))));
		let goal = closed ? (car.rpm > idle * 1.4 ? 26 : 36) : (baro * needAir) / 100;
		const sense = (kpa: number) => ({
			rpm: car.rpm,
			mapKpa: kpa,
			tpsPct: car.tps,
			iatC: car.iatC,
			vbat: volts,
			mafHz: 0,
			fuelDeltaKpa: 300
		});
		if (aspirated !== 'na') {
			const set =
				ecu.command(sense(car.mapKpa)).boostKpa * (1 - (faults.boostLeak ?? 0) * 0.5) +
				(faults.overboost ?? 0) * Math.max(0, ecu.command(sense(car.mapKpa)).boostKpa - baro);
			const able =
				aspirated === 'turbo' ? clamp((car.rpm - 1700) / 1500, 0, 1) : clamp(car.rpm / 5500, 0.2, 1);
			const wide = clamp((car.tps - 35) / 50, 0, 1);
			goal += Math.max(0, set - baro) * able * wide * (needAir / 100);
		}
		const lagS = goal > baro && goal > car.mapKpa ? 0.45 : 0.08;
		car.mapKpa += (goal - car.mapKpa) * (DT / lagS);
		const flowG = airOf(car, vehicle, shape, litres / cylinders);
		const flowGs = (flowG * car.rpm * cylinders) / 120;
		const boosted = Math.max(0, car.mapKpa - baro);
		car.iatC +=
			(ambient + 8 + boosted * (0.16 + (faults.coolerLossPerKpa ?? 0)) + (flowGs < 8 ? 5 : 0) - car.iatC) *
			(DT / 9);
		car.ectC += (86 + (faults.coolantOverC ?? 0) + 4 * clamp(flowGs / 150, 0, 1) - car.ectC) * (DT / 40);
		// Fuel
		const rail =
			(reference === 'manifold' ? base + (car.mapKpa - baro) : base) -
			(faults.pressureSagKpa ?? 0) * clamp(flowGs / 220, 0, 1.2);
		const delta = reference === 'controlled' ? base : rail - (car.mapKpa - baro);
		const nominalDelta = reference === 'atmosphere' ? base - (car.mapKpa - baro) : base;
		const command = ecu.command({ ...sense(car.mapKpa), mafHz: mafHz(flowGs), fuelDeltaKpa: nominalDelta });
		if (faults.misfire && car.tps > 80 && car.rpm > 2500 && rng.next() < faults.misfire.perS * DT) {
			misfires[faults.misfire.cylinder - 1]!++;
			unburnt = 1.2 / cylinders;
		}
		unburnt *= 1 - DT / 0.08;
		const cut = closed && car.rpm > idle + 500 && locked;
		const limiter = car.rpm >= ecu.revLimitRpm;
		const closedLoop = !cut && command.lambdaTarget > 0.97 && car.tps < 70 && car.ectC > 60;
		const loaded = car.tps >= 90 || car.mapKpa >= baro - 10;
		each.at(car.rpm, loaded && car.tps > 80, t);
		const starved = faults.bankFlowAt;
		const pulses = [0, 0];
		for (let b = 0; b < banks; b++) {
			const learned = learnedAtLoad(vehicle, loaded, car.ltft[b]!);
			const trim = (1 + (closedLoop ? car.stft[b]! : 0) / 100) * (1 + learned / 100);
			const effective = cut || limiter ? 0 : (command.pulseMs - command.deadTimeMs) * trim;
			pulses[b] = effective > 0 ? effective + command.deadTimeMs : 0;
			const short =
				starved?.bank === b + 1 && car.rpm >= starved.rpm[0] && car.rpm < starved.rpm[1] ? starved.share : 1;
			const fuelG = (effective * ecu.flowPerMs(delta) * (faults.bankFlow?.[b] ?? 1) * short) / each.seen[b]!;
			const airG = flowG * (faults.bankAir?.[b] ?? 1);
			car.lambda[b] =
				fuelG > 0 ? clamp((airG / (fuelG * ecu.stoich)) * (faults.fuelNeed ?? 1) * (1 + unburnt), 0.5, 8) : 8;
		}
		if (banks === 1) car.lambda[1] = car.lambda[0]!;
		measureLambda(car, flowGs, litres, vehicle.engine.revLimitRpm);
		for (let b = 0; b < banks; b++) {
			if (!closedLoop) {
				car.stft[b]! *= 1 - DT / 0.5;
				continue;
			}
			const shown = car.sensed[b]! * (faults.bankSensor?.[b] ?? 1);
			const error = clamp(shown / command.lambdaTarget - 1, -0.3, 0.3);
			car.stft[b] = clamp(car.stft[b]! + error * 100 * (DT / 1.2), -22, 22);
			const moved = car.stft[b]! * (DT / 60);
			car.ltft[b] = clamp(car.ltft[b]! + moved, -15, 15);
		}
		// Knock: steps up while over the limit, decays slowly.
		const leanest = Math.max(...car.lambda.slice(0, banks).map((l, b) => l / each.unburnt[b]!));
		const limit = knockLimitDeg(
			vehicle,
			octane,
			car.rpm,
			flowG / (litres / cylinders),
			car.iatC,
			clamp(leanest, 0.6, 1.2)
		);
		car.sinceKnockS += DT;
		const learned = loaded ? (faults.learnedRetardDeg ?? 0) : 0;
		const sparkDeg = command.sparkDeg - learned - car.retard;
		const over = sparkDeg - limit + rng.normal() * 0.25;
		if (over > 0 && car.tps > 30 && car.sinceKnockS > 0.12 && !cut) {
			car.retard = Math.min(10, car.retard + clamp(0.6 + over * 0.35, 0.6, 2));
			car.sinceKnockS = 0;
		} else if (
			(faults.falseKnockPerS ?? 0) > 0 &&
			car.rpm > 3000 &&
			car.tps > 80 &&
			car.retard < 0.2 &&
			rng.next() < faults.falseKnockPerS! * DT
		) {
			car.retard = 1.6 + rng.next() * 1.2;
			car.sinceKnockS = 0;
			falseBlip = true;
		}
		const decay = falseBlip ? 18 : 0.9;
		car.retard = Math.max(0, car.retard - decay * DT);
		if (car.retard === 0) falseBlip = false;
		// Motion
		const torque =
			cut || limiter
				? -35
				: ((flowG * cylinders * G_PER_KWH_AIR_J) / (4 * Math.PI)) *
						(faults.torqueTopDeg === undefined ? 1 : torqueShare(sparkDeg, faults.torqueTopDeg)) *
						each.pull -
					18 -
					car.rpm * 0.004;
		if (locked) {
			const force =
				(torque * (gears[gear - 1]! * final) * 0.9) / (tyre / (2 * Math.PI)) -
				0.6 * drag * (car.speedKmh / 3.6) ** 2 -
				0.012 * mass * 9.81;
			car.speedKmh = Math.max(
				0,
				car.speedKmh + (force / (mass * (1 + 0.04 * (gears[gear - 1] ?? 1)))) * DT * 3.6
			);
			car.rpm = Math.max(idle, car.speedKmh * ratio(gear));
		}
		if (t >= nextSample - 1e-9) {
			nextSample += 1 / rateHz;
			const top = faults.factoryDriftAt;
			const drift =
				(1 - (faults.factoryDriftRich ?? 0) * clamp(boosted / 80, 0, 1)) *
				(top ? 1 - top.share * clamp((car.rpm - top.fromRpm) / 800, 0, 1) : 1);
			const shown = [0, 1].map((b) => drift * (faults.bankSensor?.[b] ?? 1));
			const row = reading(
				car,
				command,
				pulses,
				flowGs,
				banks,
				shown,
				vehicle,
				baro,
				ambient,
				rng,
				mafHz(flowGs)
			);
			row['vbat'] = Number(fixed(volts + rng.normal() * 0.02, 2));
			if (reference !== 'controlled') row['fuelPressure'] = Number(fixed(rail + rng.normal() * 1.2, 1));
			if (!faults.deadCylinder) misfires.forEach((n, k) => (row[`misfire.cyl${k + 1}`] = n));
			if (learned) row['spark'] = Number(fixed(sparkDeg, 1));
			if (options.monitor)
				row['knockMonitor'] = Number(fixed(loaded ? monitorLevel(over, rng.normal()) : 0, 1));
			if (faults.leanCylinder)
				for (let k = 1; k <= cylinders; k++) {
					const bank = each.bankOf(k - 1);
					const off = each.relative[k - 1]! / each.seen[bank]!;
					row[`lambda.cyl${k}`] = Number(fixed(car.sensed[bank]! * off + rng.normal() * 0.004, 3));
				}
			record(row);
		}
		t += DT;
	};
	/** Nothing turns: the manifold is at the barometer, the sensors are in air, no pulse, no timing. */
	const still = () => {
		car.rpm = 0;
		car.gear = 0;
		car.pedal = car.tps = 0;
		car.retard = 0;
		car.mapKpa += (baro - car.mapKpa) * (DT / 0.15);
		for (let b = 0; b < 2; b++) {
			car.delay[b]!.fill(1);
			car.stft[b] = 0;
			car.sensed[b]! += ((t < 1 ? 1 : IN_AIR) - car.sensed[b]!) * (DT / 1.5);
		}
		if (t >= nextSample - 1e-9) {
			nextSample += 1 / rateHz;
			const modelGs = ecu.modelsAir ? 0 : null;
			const command = { pulseMs: 0, lambdaTarget: 1, sparkDeg: 0, boostKpa: baro, modelGs };
			const row = reading(car, command, [0, 0], 0, banks, [1, 1], vehicle, baro, ambient, rng, mafHz(0));
			row['rpm'] = 0;
			row['vbat'] = Number(fixed(Math.min(volts, AT_REST_V) + rng.normal() * 0.02, 2));
			if (reference !== 'controlled') row['fuelPressure'] = Number(fixed(base + rng.normal() * 1.2, 1));
			if (!faults.deadCylinder) misfires.forEach((n, k) => (row[`misfire.cyl${k + 1}`] = n));
			if (options.monitor) row['knockMonitor'] = 0;
			if (faults.leanCylinder)
				for (let k = 1; k <= cylinders; k++) row[`lambda.cyl${k}`] = Number(fixed(car.sensed[0]!, 3));
			record(row);
		}
		t += DT;
	};
	let falseBlip = false;
	const hold = (rpm: number, gear: number, seconds: number) => {
		for (let s = 0; s < seconds; s += DT)
			step(clamp(14 + (rpm - car.rpm) * 0.05 + car.speedKmh * 0.04, 4, 45), gear, true);
	};
	/** Pedal closed and a little brake, in the lowest gear from `gear` up that doesn't overspeed the engine. */
	const slow = (gear: number) => {
		let g = gear;
		while (g < gears.length && car.speedKmh * ratio(g) > vehicle.engine.revLimitRpm * 0.85) g++;
		car.speedKmh = Math.max(0, car.speedKmh - 7 * DT);
		step(0, g, car.speedKmh * ratio(g) > idle * 1.2);
	};
	/** Gets to an engine speed in a gear, gently; the clutch takes up what is left. */
	const approach = (rpm: number, gear: number) => {
		const wanted = rpm / ratio(gear);
		for (let s = 0; s < 30 && car.speedKmh > wanted * 1.03; s += DT) slow(gear);
		if (car.speedKmh < wanted * 0.6) {
			// Pulling away through the lower gears isn't what is tested: get going quickly.
			for (let s = 0; s < 6 && car.speedKmh < wanted * 0.97; s += DT) {
				car.speedKmh += (wanted / 5) * DT;
				car.rpm = Math.max(idle, car.speedKmh * ratio(Math.min(2, gear)) * 0.8);
				step(18, gear, false);
			}
		}
		for (let s = 0; s < 15 && car.speedKmh < wanted * 0.985; s += DT) step(28, gear, true);
		hold(rpm, gear, 1.2);
	};
	for (const s of options.drive) {
		switch (s.kind) {
			case 'idle':
				for (let k = 0; k < 8 && car.speedKmh > 1; k += DT) {
					car.speedKmh = Math.max(0, car.speedKmh - 30 * DT);
					car.rpm = Math.max(idle, car.rpm - 900 * DT);
					step(0, 1, false);
				}
				car.speedKmh = 0;
				for (let k = 0; k < s.seconds; k += DT) {
					car.rpm = idle + 12 * Math.sin(t * 1.7) + rng.normal() * 4;
					step(0, 1, false);
				}
				break;
			case 'standing':
				car.speedKmh = 0;
				for (let k = 0; k < s.seconds; k += DT) still();
				car.rpm = idle;
				break;
			case 'cruise':
				approach(s.speedKmh * ratio(s.gear), s.gear);
				hold(s.speedKmh * ratio(s.gear), s.gear, s.seconds);
				break;
			case 'accelerate':
				approach(s.fromRpm, s.gear);
				for (let k = 0; k < 40 && car.rpm < s.toRpm; k += DT) step(s.pedalPct, s.gear, true);
				break;
			case 'pull':
				s.gears.forEach((gear, i) => {
					if (i === 0) approach(s.fromRpm, gear);
					else
						for (let k = 0; k < 0.35; k += DT) {
							const target = car.speedKmh * ratio(gear);
							car.rpm += (target - car.rpm) * Math.min(1, DT / 0.09);
							step(15, gear, false);
						}
					for (let k = 0; k < 25 && car.rpm < s.toRpm; k += DT) step(100, gear, true);
				});
				break;
			case 'coast':
				for (let k = 0; k < 30 && car.speedKmh * ratio(s.gear) > s.toRpm; k += DT) slow(s.gear);
				break;
		}
	}
	return out;
}
