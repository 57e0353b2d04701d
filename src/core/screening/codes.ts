/** All checks of the screening; their codes are stable. */
import { airModel } from './checks/air-model.ts';
import { bankUnseen } from './checks/bank-unseen.ts';
import { boostOver, boostUnder } from './checks/boost.ts';
import { controllerState } from './checks/controller-state.ts';
import { cylEgt, cylKnock, cylLambda, cylTrim } from './checks/cylinders.ts';
import { camPosition, shiftSpeed, traction } from './checks/drivetrain.ts';
import { fuelRich } from './checks/fuel-rich.ts';
import { fuelTarget } from './checks/fuel-target.ts';
import { idleVacuum } from './checks/idle-vacuum.ts';
import { injReserve } from './checks/inj-reserve.ts';
import { knockDisabled, knockMissed, knockMonitor, knockTiming } from './checks/knock-more.ts';
import { misfire } from './checks/misfire.ts';
import { nitrousFuel, nitrousTiming } from './checks/nitrous.ts';
import { oilPressure } from './checks/oil-pressure.ts';
import { rpmLimit } from './checks/rpm-limit.ts';
import { sensorAlone } from './checks/sensor-alone.ts';
import { sensorEthanol } from './checks/sensor-ethanol.ts';
import { sensorLambda } from './checks/sensor-lambda.ts';
import { sensorMap } from './checks/sensor-map.ts';
import { supplyPressure } from './checks/supply-pressure.ts';
import { tableRange } from './checks/table-range.ts';
import { tempCoolant } from './checks/temp-coolant.ts';
import { tempEcu, tempExhaust, tempFuel, tempIntake, tempOil, tempTrans } from './checks/temperatures.ts';
import { throttleClosing, throttleSlow } from './checks/throttle.ts';
import { trimLevel } from './checks/trim-level.ts';
import { trimLimit } from './checks/trim-limit.ts';
import { voltSupply } from './checks/volt-supply.ts';
import { bankMismatch } from './checks/bank-mismatch.ts';
import { fuelLean } from './checks/fuel-lean.ts';
import { injDuty } from './checks/inj-duty.ts';
import { knockBlips, knockReal, knockUnclear } from './checks/knock.ts';
import { logChannels } from './checks/log-channels.ts';
import { logConditions } from './checks/log-conditions.ts';
import { logCoverage } from './checks/log-coverage.ts';
import { logRevision } from './checks/log-revision.ts';
import { logSensor } from './checks/log-sensor.ts';
import { logVehicle } from './checks/log-vehicle.ts';
import { misfireSuspected } from './checks/misfire-suspected.ts';
import { trimReset } from './checks/trim-reset.ts';
import { logTimebase } from './checks/log-timebase.ts';
import { logUnits } from './checks/log-units.ts';
import type { Check, Doubt } from './check.ts';

/** In the order in which a practitioner reads a log. */
export const CHECKS = [
	logChannels,
	logTimebase,
	logUnits,
	logSensor,
	logCoverage,
	logConditions,
	logRevision,
	logVehicle,
	tempCoolant,
	tempIntake,
	tempOil,
	tempTrans,
	tempEcu,
	tempFuel,
	oilPressure,
	tempExhaust,
	voltSupply,
	idleVacuum,
	trimLevel,
	controllerState,
	sensorLambda,
	sensorAlone,
	sensorMap,
	sensorEthanol,
	fuelLean,
	fuelTarget,
	fuelRich,
	trimReset,
	trimLimit,
	airModel,
	tableRange,
	misfire,
	misfireSuspected,
	bankMismatch,
	bankUnseen,
	cylLambda,
	cylKnock,
	cylEgt,
	cylTrim,
	knockReal,
	knockBlips,
	knockUnclear,
	knockMissed,
	knockMonitor,
	knockDisabled,
	knockTiming,
	injDuty,
	injReserve,
	supplyPressure,
	rpmLimit,
	boostUnder,
	boostOver,
	throttleClosing,
	throttleSlow,
	shiftSpeed,
	traction,
	camPosition,
	nitrousFuel,
	nitrousTiming
] as const satisfies readonly Check[];

export type CheckCode = (typeof CHECKS)[number]['code'];

export const CODES: readonly CheckCode[] = CHECKS.map((c) => c.code);

const BY_CODE = new Map<string, Check>(CHECKS.map((c) => [c.code, c]));

/** What is known of a check; `null` for a code that an older report carries and nobody knows any more. */
export const checkOf = (code: string): Check | null => BY_CODE.get(code) ?? null;

/** Whether a finding of this check stands in the way of what would be done. */
export const doubts = (code: string, what: Doubt): boolean => checkOf(code)?.doubts?.includes(what) ?? false;
