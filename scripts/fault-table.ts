/**
 * `npm run faults [-- SEEDS]`: what the screening says of the stand-in vehicle with each fault hidden in it, over seeds, four rates, two ways of
 * writing a log and six vehicles. Writes `docs/faults.md`. Every fault has to be found by its own code, and by no other at fix or stop; a healthy hour
 * raises neither.
 */
import { writeFileSync } from 'node:fs';
import { parseCalibration, type FuelModel } from '../src/core/calibration/document.ts';
import { readLog } from '../src/core/logfile/read.ts';
import { screen } from '../src/core/screening/screen.ts';
import { baseCalibration } from '../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../src/core/simulator/drive.ts';
import type { Faults } from '../src/core/simulator/faults.ts';
import { logText } from '../src/core/simulator/log-text.ts';
import { simulate } from '../src/core/simulator/simulate.ts';
import { parseVehicle, type Vehicle } from '../src/core/vehicle/document.ts';
import { bankCount, gaugeStoich, readContextOf } from '../src/core/vehicle/facts.ts';
import { VEHICLES } from '../src/core/simulator/vehicles.ts';

interface Case {
	name: string;
	faults: Faults;
	/** Codes that tell of it; empty for a healthy vehicle. */
	own: string[];
	suits?: (v: Vehicle) => boolean;
}

const turbo = (v: Vehicle) => v.engine.aspiration !== 'na';
const CASES: Case[] = [
	{ name: 'healthy', faults: {}, own: [] },
	{
		name: 'one bank 12 % short of fuel',
		faults: { bankFlow: [1, 0.88] },
		own: ['bank.mismatch'],
		suits: (v) => bankCount(v) === 2
	},
	{
		name: 'fuel pressure sags',
		faults: { pressureSagKpa: 110 },
		own: ['supply.pressure'],
		suits: (v) => (v.engine.displacementL ?? 0) > 1.8
	},
	{ name: 'boost leak', faults: { boostLeak: 0.4 }, own: ['boost.under'], suits: turbo },
	{ name: 'overboost', faults: { overboost: 0.3 }, own: ['boost.over'], suits: turbo },
	{
		name: 'factory sensor drifts rich',
		faults: { factoryDriftRich: 0.12 },
		own: ['sensor.lambda'],
		suits: (v) => turbo(v) && (v.sensors?.lambda?.length ?? 0) > 1
	},
	{ name: 'a cylinder misfires', faults: { misfire: { cylinder: 3, perS: 2 } }, own: ['misfire'] },
	{
		name: 'a cylinder 10 % lean',
		faults: { leanCylinder: { cylinder: 2, share: 0.1 } },
		own: ['cyl.lambda']
	},
	{ name: 'no charging', faults: { supplyV: 11.7 }, own: ['volt.supply'] },
	{ name: 'hot coolant', faults: { coolantOverC: 26 }, own: ['temp.coolant'] },
	{ name: 'throttle closed by a limit', faults: { throttleLimitPct: 75 }, own: ['throttle.closing'] },
	{
		name: 'noise taken for knock',
		faults: { falseKnockPerS: 1.3 },
		own: ['knock.blips', 'knock.unclear', 'knock.real']
	}
];

/** The demo's vehicles with injectors that are enough for the worst day, and one more with an instrument beside each factory sensor. */
const vehicles: [string, Vehicle, FuelModel][] = [
	['kestrel', VEHICLES.kestrel, 'speed-density'],
	['marl', VEHICLES.marl, 'pulse-width'],
	['drover', VEHICLES.drover, 'speed-density'],
	['finch', VEHICLES.finch, 'maf'],
	[
		'sledge',
		parseVehicle({ ...VEHICLES.sledge, injectors: { ...VEHICLES.sledge.injectors, flowCcMin: 700 } }),
		'speed-density'
	],
	[
		'marl 2.4',
		parseVehicle({
			...VEHICLES.marl,
			name: 'Tavi Marl 2.4',
			engine: { ...VEHICLES.marl.engine, displacementL: 2.4 },
			injectors: { ...VEHICLES.marl.injectors, flowCcMin: 850 }
		}),
		'maf'
	]
];
const RATES = [5, 10, 20, 40];
const STYLES = ['brackets', 'last-word-gauge'] as const;
const seeds = Number(process.argv[2] ?? 12);

const rows: string[] = [];
let failed = 0;
for (const c of CASES) {
	let runs = 0;
	let foundOwn = 0;
	const others = new Map<string, number>();
	const suited = vehicles.filter(([, v]) => c.suits?.(v) ?? true);
	for (let seed = 1; seed <= seeds; seed++)
		for (const [r, rateHz] of RATES.entries()) {
			const [, vehicle, fuelModel] = suited[(seed + r) % suited.length]!;
			const calibration = parseCalibration(
				baseCalibration({ vehicle, fuelModel, name: 'table', timingMarginDeg: 5 })
			);
			const gears = vehicle.transmission?.gears?.length ?? 5;
			const text = logText(
				simulate({
					vehicle,
					calibration,
					drive: standardDrive(gears, vehicle.engine.revLimitRpm),
					faults: c.faults,
					seed: seed * 31,
					rateHz
				}),
				{ gaugeStoich: gaugeStoich(vehicle), style: STYLES[(seed + (r >> 1)) % STYLES.length]! }
			);
			const log = readLog([new TextEncoder().encode(text)], readContextOf(vehicle));
			const { findings } = screen(log, { vehicle, calibrations: [calibration] });
			runs++;
			if (findings.some((f) => c.own.includes(f.code) && f.severity !== 'note')) foundOwn++;
			for (const f of findings)
				if (!c.own.includes(f.code) && (f.severity === 'fix' || f.severity === 'stop'))
					others.set(f.code, (others.get(f.code) ?? 0) + 1);
		}
	const ok = others.size === 0 && (c.own.length === 0 || foundOwn === runs);
	if (!ok) failed++;
	const said = [...others].map(([code, n]) => `${code} ${n}`).join(', ') || 'none';
	rows.push(
		`| ${c.name} | ${c.own.join(', ') || '–'} | ${c.own.length ? `${foundOwn} of ${runs}` : '–'} | ${said} | ${suited.length} |`
	);
	console.log(rows.at(-1));
}
writeFileSync(
	'docs/faults.md',
	`# What the screening says of hidden faults

Made by \`npm run faults\`: the stand-in vehicle with each fault hidden in it, ${seeds} seeds at ${RATES.join(', ')} Hz over the vehicles that the fault
suits, from before the start to after the stop, half of the logs with boost over the barometer in psi and units as last words. A fault should be found by its own code in every run, and by no other at fix or stop; a healthy vehicle raises neither.

| fault | own code | found | others at fix or stop | vehicles |
|---|---|---|---|---|
${rows.join('\n')}
`
);
process.exitCode = failed ? 1 : 0;
