/**
 * All codes of the screening in the order in which a practitioner reads a log. Codes without a check yet are reported as
 * not checked, because a reader must not take silence for good news.
 */
import { bankMismatch } from './checks/bank-mismatch.ts';
import { fuelLean } from './checks/fuel-lean.ts';
import { injDuty } from './checks/inj-duty.ts';
import { knockBlips, knockReal, knockUnclear } from './checks/knock.ts';
import { logChannels } from './checks/log-channels.ts';
import { logConditions } from './checks/log-conditions.ts';
import { logCoverage } from './checks/log-coverage.ts';
import { logRevision } from './checks/log-revision.ts';
import { logSensor } from './checks/log-sensor.ts';
import { logTimebase } from './checks/log-timebase.ts';
import { logUnits } from './checks/log-units.ts';
import type { Check } from './types.ts';

export const CHECKS: readonly Check[] = [
	logChannels,
	logTimebase,
	logUnits,
	logSensor,
	logCoverage,
	logConditions,
	logRevision,
	fuelLean,
	bankMismatch,
	knockReal,
	knockBlips,
	knockUnclear,
	injDuty
];

export const CODES: readonly string[] = (
	'log.channels log.timebase log.units log.sensor log.coverage log.conditions log.revision ' +
	'temp.coolant temp.intake temp.oil temp.trans temp.ecu oil.pressure temp.exhaust volt.supply idle.vacuum trim.level controller.state ' +
	'sensor.lambda sensor.map sensor.ethanol ' +
	'fuel.lean fuel.target fuel.rich trim.limit air.model table.range misfire ' +
	'bank.mismatch bank.unseen cyl.lambda cyl.knock cyl.egt cyl.trim ' +
	'knock.real knock.blips knock.unclear knock.missed knock.monitor knock.disabled knock.timing ' +
	'inj.duty inj.reserve supply.pressure rpm.limit ' +
	'boost.under boost.over throttle.closing throttle.slow shift.speed traction cam.position ' +
	'nitrous.fuel nitrous.timing'
).split(' ');
