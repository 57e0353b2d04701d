/** Proposes from the large log on a table of 40 × 40, and from five of it; prints times. */
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { DEFAULT_STRATEGY } from '../../src/core/correction/strategy.ts';
import { prepare } from '../../src/core/evidence/prepare.ts';
import { readLog } from '../../src/core/logfile/read.ts';
import { propose } from '../../src/core/revising/revise.ts';
import { parseVehicle } from '../../src/core/vehicle/document.ts';
import { chunksOf } from './chunks.ts';

const LOGS = 5;
const vehicle = parseVehicle({
	schema: 'tanto.vehicle/1',
	name: 'bench',
	engine: { layout: 'v', cylinders: 6, aspiration: 'turbo', injection: 'port', revLimitRpm: 7000 }
});
const calibration = parseCalibration({
	schema: 'tanto.calibration/1',
	name: 'bench',
	fuelModel: 'speed-density',
	items: [
		{
			id: 'fuel.table',
			kind: 'map',
			x: { channel: 'rpm', points: Array.from({ length: 40 }, (_, i) => 500 + i * 170) },
			y: { channel: 'map', points: Array.from({ length: 40 }, (_, i) => 20 + i * 5) },
			values: Array.from({ length: 40 }, (_, r) => Array.from({ length: 40 }, (__, c) => 60 + r / 2 + c / 4))
		}
	]
});
const log = readLog(chunksOf(process.argv[2]!), { gaugeStoich: 14.7, baroKpa: 101.3 });
const input = prepare(log, { vehicle, calibrations: [calibration] });
const timed = (logs: number) => {
	const evidence = Array.from({ length: logs }, () => ({ input, findings: [] }));
	// The first is the one that a worker compiles for; what a tuner waits for all day are the others.
	const [, ...times] = Array.from({ length: 6 }, () => {
		const start = performance.now();
		if (propose(evidence, DEFAULT_STRATEGY).next === undefined) throw new Error('not proposed');
		return performance.now() - start;
	});
	return times.sort((a, b) => a - b)[2]!;
};
// The reference: one plain pass over three columns, as often as there are samples of them.
const start = performance.now();
let sum = 0;
for (const id of ['rpm', 'map', 'lambda.b1']) for (const v of input.frame.get(id) ?? []) sum += v;
const passMs = Math.max(0.01, performance.now() - start);
if (!Number.isFinite(sum)) sum = 0;
const oneMs = timed(1);
const fiveMs = timed(LOGS);
console.log(JSON.stringify({ oneMs, fiveMs, passRatio: oneMs / passMs }));
