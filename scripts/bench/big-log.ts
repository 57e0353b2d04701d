/** A large log for measuring: 60 columns of plausible numbers, written as comma CSV. Deterministic. */
import { closeSync, openSync, writeSync } from 'node:fs';
import { Rng } from '../../src/core/stats/rng.ts';

const NAMED = [
	'Time (s)',
	'Engine Speed (rpm)',
	'Manifold Pressure (kPa)',
	'Barometer (kPa)',
	'Throttle (%)',
	'Pedal (%)',
	'Vehicle Speed (km/h)',
	'Intake Air Temp (°C)',
	'Coolant Temp (°C)',
	'Battery (V)',
	'Lambda Bank 1 (λ)',
	'Lambda Bank 2 (λ)',
	'Lambda Target (λ)',
	'Closed Loop Correction Bank 1 (%)',
	'Closed Loop Correction Bank 2 (%)',
	'Learned Trim Bank 1 (%)',
	'Learned Trim Bank 2 (%)',
	'Pulse Width Bank 1 (ms)',
	'Pulse Width Bank 2 (ms)',
	'Base Timing (°)',
	'Timing (°)',
	'Knock Retard (°)',
	'Air Mass Flow (g/s)'
];

/** Channels that only wander about their middle. */
const MORE = [
	...perCylinder('Lambda Cylinder', 'λ', 0.92, 0.01, 3),
	...perCylinder('EGT Cylinder', '°C', 720, 12, 1),
	...perCylinder('Knock Retard Cylinder', '°', 0, 0, 1),
	{ name: 'Oil Temp (°C)', middle: 96, sd: 0.3, decimals: 1 },
	{ name: 'Oil Pressure (kPa)', middle: 410, sd: 6, decimals: 1 },
	{ name: 'Gearbox Temp (°C)', middle: 78, sd: 0.2, decimals: 1 },
	{ name: 'ECU Temp (°C)', middle: 44, sd: 0.2, decimals: 1 },
	{ name: 'Ambient Temp (°C)', middle: 19, sd: 0.1, decimals: 1 },
	{ name: 'Injector Duty (%)', middle: 14, sd: 0.4, decimals: 1 },
	{ name: 'Fuel Pressure (kPa)', middle: 301, sd: 1.5, decimals: 1 },
	{ name: 'Boost Target (kPa)', middle: 172, sd: 0, decimals: 1 },
	{ name: 'Cylinder Air Mass (g)', middle: 0.31, sd: 0.004, decimals: 3 },
	{ name: 'Wastegate Duty (%)', middle: 38, sd: 2, decimals: 1 },
	{ name: 'Fuel Pump Duty (%)', middle: 55, sd: 1, decimals: 1 },
	{ name: 'Modelled Air Flow (g/s)', middle: 28, sd: 0.5, decimals: 1 },
	{ name: 'Gear', middle: 4, sd: 0, decimals: 0 }
];

function perCylinder(name: string, unit: string, middle: number, sd: number, decimals: number) {
	return Array.from({ length: 8 }, (_, i) => ({ name: `${name} ${i + 1} (${unit})`, middle, sd, decimals }));
}

export const COLUMNS = NAMED.length + MORE.length;

/** Writes `rows` rows at 20 Hz: cruising with a full-throttle pull each minute. */
export function writeBigLog(file: string, rows: number): void {
	const rng = new Rng(11);
	const fd = openSync(file, 'w');
	writeSync(fd, `${[...NAMED, ...MORE.map((m) => m.name)].join(',')}\n`);
	const noise = (v: number, sd: number, d: number) => (v + (rng.next() - 0.5) * 3.4 * sd).toFixed(d);
	let text = '';
	for (let i = 0; i < rows; i++) {
		const t = i / 20;
		const inMinute = t % 60;
		const pull = inMinute > 50 && inMinute < 56;
		const rpm = pull ? 2500 + (inMinute - 50) * 660 : 2200 + 500 * Math.sin(t / 9);
		const kpa = pull ? 170 : 42 + 12 * Math.sin(t / 7);
		const target = pull ? 0.82 : 1;
		const speed = rpm / 40;
		const pw = (kpa / 100) * 9;
		const cells = [
			t.toFixed(2),
			noise(rpm, 4, 0),
			noise(kpa, 0.5, 1),
			'100.0',
			pull ? '99.6' : noise(18, 0.3, 1),
			pull ? '100.0' : noise(17, 0.3, 1),
			noise(speed, 0.1, 1),
			noise(34, 0.2, 1),
			noise(88, 0.2, 1),
			noise(14.1, 0.03, 2),
			noise(target, 0.006, 3),
			noise(target * 1.005, 0.006, 3),
			target.toFixed(3),
			noise(1, 0.8, 1),
			noise(1.2, 0.8, 1),
			'1.4',
			'1.6',
			noise(pw, 0.02, 3),
			noise(pw, 0.02, 3),
			'22.5',
			'22.5',
			'0.0',
			noise((rpm * kpa) / 4000, 0.5, 1)
		];
		for (const m of MORE) cells.push(m.sd ? noise(m.middle, m.sd, m.decimals) : m.middle.toFixed(m.decimals));
		text += `${cells.join(',')}\n`;
		if (text.length > 1 << 20) {
			writeSync(fd, text);
			text = '';
		}
	}
	writeSync(fd, text);
	closeSync(fd);
}
