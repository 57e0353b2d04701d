/** Writes a simulated log the way an invented logger would: comma-separated, units in brackets, its own column names. */
import { fixed } from '../format.ts';
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
	knockMonitor: 'Knock Monitor (%)',
	boostTarget: 'Boost Target (kPa)',
	fuelPressure: 'Fuel Pressure (kPa)',
	maf: 'Air Mass Flow (g/s)',
	airflowModel: 'Modelled Air Flow (g/s)',
	mafFrequency: 'Air Meter Frequency (Hz)'
};

function nameOf(id: string): string {
	const cylinder = /^(misfire|lambda)\.cyl(\d+)$/.exec(id);
	if (cylinder)
		return cylinder[1] === 'misfire' ? `Misfires Cyl ${cylinder[2]}` : `Lambda Cylinder ${cylinder[2]} (λ)`;
	return NAMES[id] ?? id;
}

/** The way a logger writes: units in brackets or as the last word, boost as it is or over the barometer in psi. */
export interface LogStyle {
	/** Scale of the reference gauge, which shows AFR. */
	gaugeStoich?: number;
	/** `Time s`, `Boost psi`: no brackets, and pressures of the manifold over the barometer. */
	style?: 'brackets' | 'last-word-gauge';
}

const KPA_PER_PSI = 6.894757;

export function logText(log: SimLog, { gaugeStoich = 14.7, style = 'brackets' }: LogStyle = {}): string {
	const plain = style === 'brackets';
	const ids = [...log.channels.keys()];
	const baro = log.channels.get('baro');
	const columns = ids.map((id) => log.channels.get(id)!);
	const header = (id: string) => {
		if (plain) return nameOf(id);
		if (id === 'map') return 'Boost psi';
		if (id === 'boostTarget') return 'Boost Target psi';
		return nameOf(id).replace(/ \((.*)\)$/, ' $1');
	};
	const cell = (id: string, v: number, i: number): string => {
		if (id === 'lambda.ref') return fixed(v * gaugeStoich, 2);
		if (!plain && (id === 'map' || id === 'boostTarget') && baro)
			return fixed((v - baro[i]!) / KPA_PER_PSI, 2);
		return String(v);
	};
	const lines = [[plain ? 'Time (s)' : 'Time s', ...ids.map(header)].join(',')];
	for (let i = 0; i < log.timeS.length; i++)
		lines.push(`${fixed(log.timeS[i]!, 3)},${columns.map((c, k) => cell(ids[k]!, c[i]!, i)).join(',')}`);
	return `${lines.join('\n')}\n`;
}
