/** Replays the large log, compares two calibrations of 300 tables; prints times. */
import { prepare } from '../../src/core/evidence/prepare.ts';
import { compare } from '../../src/core/calibration/compare.ts';
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { readLog } from '../../src/core/logfile/read.ts';
import { replay } from '../../src/core/revising/replay.ts';
import { parseVehicle } from '../../src/core/vehicle/document.ts';
import { chunksOf } from './chunks.ts';

const vehicle = parseVehicle({
	schema: 'tanto.vehicle/1',
	name: 'bench',
	engine: { layout: 'v', cylinders: 6, aspiration: 'turbo', injection: 'port', revLimitRpm: 7000 }
});
const x = { channel: 'rpm', points: Array.from({ length: 24 }, (_, i) => 500 + i * 300) };
const y = { channel: 'map', points: Array.from({ length: 20 }, (_, i) => 20 + i * 10) };
const table = (id: string, value: (r: number, c: number) => number) => ({
	id,
	kind: 'map',
	x,
	y,
	values: y.points.map((_, r) => x.points.map((__, c) => value(r, c)))
});
const calibration = (by: number) =>
	parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'bench',
		fuelModel: 'speed-density',
		items: [
			table('fuel.table', (r, c) => 70 + r + c / 2 + by),
			table('spark.table', (r, c) => 30 - r / 2 + c / 4 - by),
			table('lambda.target', (r) => (r > 10 ? 0.85 : 1)),
			...Array.from({ length: 297 }, (_, i) => table(`other.${i}`, (r, c) => i + r * c + by))
		]
	});
const [a, b] = [calibration(0), calibration(1)];
const middle = (work: () => void, rounds = 9) => {
	const times = Array.from({ length: rounds }, () => {
		const start = performance.now();
		work();
		return performance.now() - start;
	}).sort((p, q) => p - q);
	return times[rounds >> 1]!;
};
const compareMs = middle(() => {
	if (compare(a, b).changes.length !== 299) throw new Error('not compared');
});
// The reference for the comparison: the same two documents written out as text.
const textMs = middle(() => {
	if (JSON.stringify(a) === JSON.stringify(b)) throw new Error('the same');
});
const log = readLog(chunksOf(process.argv[2]!), { gaugeStoich: 14.7, baroKpa: 101.3 });
const small = (by: number) => ({ ...calibration(by), items: calibration(by).items.slice(0, 3) });
const [now, next] = [small(0), small(1)];
const input = prepare(log, { vehicle, calibrations: [now] });
const replayMs = middle(() => {
	if (replay(input, next).map === null) throw new Error('not replayed');
}, 5);
console.log(JSON.stringify({ compareMs, compareRatio: compareMs / textMs, replayMs }));
