/**
 * The canonical channels: everything that Tanto computes with. A raw column of a log becomes one of these or stays unmapped.
 */
import type { Quantity } from '../units/units.ts';

export interface ChannelKind {
	readonly id: string;
	/** What a reader sees. */
	readonly title: string;
	readonly quantity: Quantity;
	/** Physically possible range in the canonical unit; a unit that carries most values outside is the wrong one. */
	readonly min: number;
	readonly max: number;
}

function kind(id: string, title: string, quantity: Quantity, min: number, max: number): ChannelKind {
	return { id, title, quantity, min, max };
}

const FIXED: ChannelKind[] = [
	kind('time', 'Time', 'time', 0, 1e12),
	kind('rpm', 'Engine speed', 'engineSpeed', 0, 20000),
	kind('map', 'Manifold pressure', 'pressure', 5, 700),
	kind('baro', 'Barometer', 'pressure', 50, 110),
	kind('tps', 'Throttle', 'percent', -5, 110),
	kind('pedal', 'Pedal', 'percent', -5, 110),
	kind('speed', 'Road speed', 'speed', 0, 450),
	kind('gear', 'Gear', 'count', -1, 12),
	kind('iat', 'Intake air', 'temperature', -45, 160),
	kind('ect', 'Coolant', 'temperature', -45, 150),
	kind('oilTemp', 'Oil temperature', 'temperature', -45, 190),
	kind('oilPressure', 'Oil pressure', 'pressure', 0, 1500),
	kind('transTemp', 'Gearbox temperature', 'temperature', -45, 190),
	kind('fuelTemp', 'Fuel temperature', 'temperature', -45, 120),
	kind('ecuTemp', 'Controller temperature', 'temperature', -45, 150),
	kind('ambientTemp', 'Ambient temperature', 'temperature', -50, 60),
	kind('vbat', 'Battery', 'voltage', 0, 20),
	kind('lambda.b1', 'Lambda bank 1', 'lambda', 0.4, 10),
	kind('lambda.b2', 'Lambda bank 2', 'lambda', 0.4, 10),
	kind('lambda.ref', 'Reference lambda', 'lambda', 0.4, 10),
	kind('lambda.ref2', 'Second reference lambda', 'lambda', 0.4, 10),
	kind('lambda.dyno', 'Dyno lambda', 'lambda', 0.4, 10),
	kind('lambda.target', 'Lambda target', 'lambda', 0.4, 3),
	kind('stft.b1', 'Closed-loop correction bank 1', 'percent', -60, 60),
	kind('stft.b2', 'Closed-loop correction bank 2', 'percent', -60, 60),
	kind('ltft.b1', 'Learned trim bank 1', 'percent', -60, 60),
	kind('ltft.b2', 'Learned trim bank 2', 'percent', -60, 60),
	kind('pw.b1', 'Pulse width bank 1', 'pulseWidth', 0, 60),
	kind('pw.b2', 'Pulse width bank 2', 'pulseWidth', 0, 60),
	kind('injDuty', 'Injector duty', 'percent', 0, 150),
	kind('fuelPressure', 'Fuel pressure', 'pressure', 0, 1500),
	kind('railPressure', 'Rail pressure', 'pressure', 0, 50000),
	kind('railTarget', 'Rail pressure target', 'pressure', 0, 50000),
	kind('boostTarget', 'Boost set point', 'pressure', 20, 700),
	kind('exhaustPressure', 'Exhaust pressure', 'pressure', 50, 1000),
	kind('maf', 'Air mass flow', 'massFlow', 0, 2000),
	kind('mafFrequency', 'Air meter frequency', 'frequency', 0, 20000),
	kind('airflowModel', 'Modelled air flow', 'massFlow', 0, 2000),
	kind('airmass', 'Cylinder air mass', 'airmass', 0, 6),
	kind('spark', 'Timing', 'angle', -30, 70),
	kind('sparkBase', 'Base timing', 'angle', -30, 70),
	kind('knockRetard', 'Knock retard', 'angle', -30, 30),
	kind('knockAdvance', 'Knock advance', 'angle', -30, 30),
	kind('knockLearned', 'Learned knock retard', 'angle', -30, 30),
	kind('octaneFactor', 'Octane factor', 'percent', 0, 150),
	kind('knockMonitor', 'Knock monitor', 'level', 0, 100),
	kind('ethanol', 'Ethanol', 'percent', 0, 100),
	kind('fuelFlow', 'Fuel flow', 'massFlow', 0, 300),
	kind('fuelFlowBase', 'Base fuel flow', 'massFlow', 0, 300),
	kind('nitrousFuel', 'Nitrous fuel adder', 'massFlow', 0, 300),
	kind('nitrousDuty', 'Nitrous duty', 'percent', 0, 100),
	kind('camIntake', 'Intake cam', 'angle', -80, 180),
	kind('camIntakeTarget', 'Intake cam target', 'angle', -80, 180),
	kind('camExhaust', 'Exhaust cam', 'angle', -80, 180),
	kind('wastegateDuty', 'Wastegate duty', 'percent', 0, 100),
	kind('fuelPumpDuty', 'Fuel pump duty', 'percent', 0, 100),
	kind('syncErrors', 'Sync errors', 'count', 0, 1e9),
	kind('torqueLimit', 'Torque intervention', 'count', 0, 1),
	kind('torqueSource', 'Torque limited by', 'text', 0, 0),
	kind('faultCodes', 'Fault codes', 'count', 0, 1e6),
	kind('torque', 'Torque', 'torque', -500, 5000),
	kind('power', 'Power', 'power', -300, 3000),
	kind('calibrationId', 'Calibration', 'text', 0, 0)
];

export const MAX_CYLINDERS = 16;
const PER_CYLINDER: [string, string, Quantity, number, number][] = [
	['lambda.cyl', 'Lambda cylinder', 'lambda', 0.4, 10],
	['knockRetard.cyl', 'Knock retard cylinder', 'angle', -30, 30],
	['misfire.cyl', 'Misfires cylinder', 'count', 0, 1e6],
	['egt.cyl', 'Exhaust temperature cylinder', 'temperature', -45, 1300]
];

export const CHANNELS: ReadonlyMap<string, ChannelKind> = new Map(
	[
		...FIXED,
		...PER_CYLINDER.flatMap(([prefix, title, quantity, min, max]) =>
			Array.from({ length: MAX_CYLINDERS }, (_, i) =>
				kind(`${prefix}${i + 1}`, `${title} ${i + 1}`, quantity, min, max)
			)
		)
	].map((k) => [k.id, k])
);

/** The canonical channel `id`; throws for an id that isn't canonical. */
export function channelKind(id: string): ChannelKind {
	const found = CHANNELS.get(id);
	if (!found) throw new RangeError(`"${id}" is not a canonical channel`);
	return found;
}
