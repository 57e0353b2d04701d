/** Writes a simulated log the way an invented logger would: comma-separated, units in brackets, its own column names. */
import type { SimLog } from './simulate.ts';

const NAMES: Record<string, string> = {
	rpm: 'Engine Speed (rpm)',
	map: 'Manifold Pressure (kPa)',
	baro: 'Barometer (kPa)',
	tps: 'Throttle (%)',
	pedal: 'Pedal (%)',
	speed: 'Vehicle Speed (km/h)',
	iat: 'Intake Air Temp (°C)',
	ect: 'Coolant Temp (°C)',
	ambientTemp: 'Ambient Temp (°C)',
	vbat: 'Battery (V)',
	'lambda.b1': 'Lambda Bank 1 (λ)',
	'lambda.b2': 'Lambda Bank 2 (λ)',
	'lambda.ref': 'Wideband Reference (AFR)',
	'lambda.target': 'Lambda Target (λ)',
	'stft.b1': 'Closed Loop Correction Bank 1 (%)',
	'stft.b2': 'Closed Loop Correction Bank 2 (%)',
	'ltft.b1': 'Learned Trim Bank 1 (%)',
	'ltft.b2': 'Learned Trim Bank 2 (%)',
	'pw.b1': 'Pulse Width Bank 1 (ms)',
	'pw.b2': 'Pulse Width Bank 2 (ms)',
	sparkBase: 'Base Timing (°)',
	spark: 'Timing (°)',
	knockRetard: 'Knock Retard (°)',
	boostTarget: 'Boost Target (kPa)',
	fuelPressure: 'Fuel Pressure (kPa)',
	maf: 'Air Mass Flow (g/s)',
	mafFrequency: 'Air Meter Frequency (Hz)'
};

function nameOf(id: string): string {
	const cylinder = /^(misfire|lambda)\.cyl(\d+)$/.exec(id);
	if (cylinder)
		return cylinder[1] === 'misfire' ? `Misfires Cyl ${cylinder[2]}` : `Lambda Cylinder ${cylinder[2]} (λ)`;
	return NAMES[id] ?? id;
}

/** @param gaugeStoich scale of the reference gauge, which shows AFR */
export function logText(log: SimLog, gaugeStoich = 14.7): string {
	const ids = [...log.channels.keys()];
	const columns = ids.map((id) => log.channels.get(id)!);
	const lines = [['Time (s)', ...ids.map(nameOf)].join(',')];
	for (let i = 0; i < log.timeS.length; i++) {
		const cells = columns.map((c, k) =>
			ids[k] === 'lambda.ref' ? (c[i]! * gaugeStoich).toFixed(2) : String(c[i])
		);
		lines.push(`${log.timeS[i]!.toFixed(3)},${cells.join(',')}`);
	}
	return `${lines.join('\n')}\n`;
}
