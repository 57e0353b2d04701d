/** What Tanto writes reads back as it was: the same columns, and the same findings. `npm run properties` tries more drives. */
import { describe, expect, it } from 'vitest';
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { screen } from '../../src/core/screening/screen.ts';
import { findingKey } from '../../src/core/screening/types.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../../src/core/simulator/drive.ts';
import type { Faults } from '../../src/core/simulator/faults.ts';
import { logText } from '../../src/core/simulator/log-text.ts';
import { simulate } from '../../src/core/simulator/simulate.ts';
import { vehicleWith } from '../../src/core/testing/hand-made.ts';
import type { UnitChoice } from '../../src/core/units/display.ts';
import type { Log } from '../../src/core/logfile/log.ts';
import { readLogAsync } from '../../src/core/logfile/read.ts';
import { outColumns } from '../../src/core/logfile/select.ts';
import { OUT_FORMATS, type OutFormat } from '../../src/core/logfile/write.ts';
import { runs } from './runs.ts';

const vehicle = vehicleWith(
	{
		layout: 'v',
		cylinders: 6,
		banks: [
			[1, 3, 5],
			[2, 4, 6]
		],
		displacementL: 3,
		aspiration: 'turbo'
	},
	{
		transmission: { type: 'manual', gears: [3.4, 2.1, 1.45, 1.1], finalDrive: 3.9, tyreCircumferenceM: 1.95 }
	}
);
const calibration = parseCalibration(baseCalibration({ vehicle, fuelModel: 'speed-density', name: 'base' }));
const context = { gaugeStoich: 14.7, baroKpa: 101.325 };
const FAULTS: Faults[] = [
	{ bankFlow: [0.93, 1] },
	{ octaneRon: 91 },
	{ falseKnockPerS: 3, coolantOverC: 20 },
	{ boostLeak: 0.4, supplyV: 12.2 }
];
const POUNDS: UnitChoice = {
	mixture: 'afr-petrol',
	pressure: 'psi',
	temperature: '°F',
	speed: 'mph',
	power: 'hp',
	gauge: false
};

const read = (data: string | Uint8Array) =>
	readLogAsync(
		(async function* () {
			yield typeof data === 'string' ? new TextEncoder().encode(data) : data;
		})(),
		context
	);

async function written(log: Log, format: OutFormat, units: UnitChoice | null): Promise<Log> {
	const pieces: Uint8Array[] = [];
	for (const piece of OUT_FORMATS[format].pieces(log, outColumns(log, units)))
		pieces.push(typeof piece === 'string' ? new TextEncoder().encode(piece) : piece);
	return read(new Uint8Array(Buffer.concat(pieces)));
}

/** What differs in value or place by more than what seven digits keep. */
function differing(a: Log, b: Log): string[] {
	const out: string[] = [];
	for (const c of a.channels) {
		const other = b.channels.find((o) => o.id === c.id);
		if (!other) out.push(`${c.id} is gone`);
		else if (other.values.length !== c.values.length) out.push(`${c.id} has ${other.values.length} samples`);
		else
			for (let i = 0; i < c.values.length; i++) {
				const [v, w] = [c.values[i]!, other.values[i]!];
				if (v !== w && !(v !== v && w !== w) && !(Math.abs(v - w) <= 2e-5 * Math.max(1, Math.abs(v)))) {
					out.push(`${c.id} at ${c.timeS[i]} s: ${v} reads ${w}`);
					break;
				}
			}
	}
	return out;
}

/** Findings by kind, how grave and how much; but for those of the file itself. */
const found = (log: Log) =>
	screen(log, { vehicle, calibrations: [calibration] })
		.findings.filter((f) => f.code !== 'log.timebase' && f.code !== 'log.units')
		.map(
			(f) =>
				`${findingKey(f)} ${f.severity} ${f.value === null || f.value === undefined ? '' : f.value.toPrecision(3)}`
		)
		.sort();

describe('a log that Tanto wrote', () => {
	it.each(Array.from({ length: runs(2) }, (_, k) => k))('is the same log: drive %i', async (k) => {
		const drive = simulate({
			vehicle,
			calibration,
			drive: standardDrive(4, vehicle.engine.revLimitRpm),
			faults: FAULTS[k % FAULTS.length]!,
			seed: 400 + k,
			rateHz: 20,
			monitor: k % 2 === 1
		});
		const log = await read(logText(drive, { style: k % 2 ? 'last-word-gauge' : 'brackets' }));
		const before = found(log);
		expect(before.length).toBeGreaterThan(0);
		for (const format of Object.keys(OUT_FORMATS) as OutFormat[])
			for (const units of [null, POUNDS]) {
				const again = await written(log, format, units);
				expect({ format, units, differ: differing(log, again) }).toEqual({ format, units, differ: [] });
				expect({ format, units, found: found(again) }).toEqual({ format, units, found: before });
			}
	});
});
