/** Screens the large log, bins it, zooms in it; prints times. */
import { prepare } from '../../src/core/evidence/prepare.ts';
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { cellStats } from '../../src/core/evidence/cells/stats.ts';
import { buildPyramid, PYRAMID_FACTOR, window } from '../../src/core/logfile/pyramid.ts';
import { readLog } from '../../src/core/logfile/read.ts';
import { screenPrepared } from '../../src/core/screening/screen.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { parseVehicle } from '../../src/core/vehicle/document.ts';
import { chunksOf, peakMb } from './chunks.ts';

/** A full sheet and a job of five revisions: no check is let off for want of a fact. */
const vehicle = parseVehicle({
	schema: 'tanto.vehicle/1',
	name: 'bench',
	engine: {
		layout: 'v',
		cylinders: 6,
		displacementL: 3,
		aspiration: 'turbo',
		injection: 'port',
		revLimitRpm: 7000
	},
	injectors: { flowCcMin: 800, pressureReference: 'manifold', basePressureKpa: 300 },
	baselines: { idleMapKpa: 35, coolantIdleC: [80, 100], ambientPressureKpa: 100 },
	transmission: { gears: [3.2, 2, 1.4, 1.05, 0.8], finalDrive: 3.6, tyreCircumferenceM: 1.95 }
});
const calibrations = [0, 1, 2, 3, 4].map((i) =>
	parseCalibration(
		baseCalibration({ vehicle, fuelModel: 'speed-density', name: `R${i}`, timingMarginDeg: 5 + i })
	)
);
const log = readLog(chunksOf(process.argv[2]!), { gaugeStoich: 14.7, baroKpa: 101.3 });
const screenOnce = () => {
	const start = performance.now();
	const report = screenPrepared(prepare(log, { vehicle, calibrations }));
	if (report.checks.length < 50) throw new Error('not screened');
	return performance.now() - start;
};
const coldMs = screenOnce();
const middle = (work: () => number, rounds: number) => {
	const times = Array.from({ length: rounds }, work).sort((a, b) => a - b);
	return times[times.length >> 1]!;
};
const warmMs = middle(screenOnce, 7);
const highest = peakMb();

const column = (id: string) => log.channels.find((c) => c.id === id)!;
const n = log.rows;
const axes = {
	xChannel: 'rpm',
	x: Array.from({ length: 24 }, (_, i) => 500 + i * 300),
	yChannel: 'map',
	y: Array.from({ length: 20 }, (_, i) => 20 + i * 10)
};
const bin = () => {
	const start = performance.now();
	cellStats({
		axes,
		x: column('rpm').values,
		y: column('map').values,
		value: column('lambda.b1').values,
		use: new Uint8Array(n).fill(1),
		timeS: column('rpm').timeS,
		dtS: new Float64Array(n).fill(0.05),
		lagS: new Float32Array(n).fill(0.1),
		method: 'bilinear'
	});
	return performance.now() - start;
};
let sink = 0;
const plain = () => {
	const start = performance.now();
	const [a, b, c] = [column('rpm').values, column('map').values, column('lambda.b1').values];
	for (let i = 0; i < n; i++) sink += a[i]! * b[i]! + c[i]!;
	return performance.now() - start;
};
for (let i = 0; i < 5; i++) {
	bin();
	plain();
}
const binMs = middle(bin, 9);
const binRatio = binMs / middle(plain, 9);

const rpm = column('rpm');
const levels = [rpm.values, ...buildPyramid(rpm.values)];
const from = rpm.timeS[Math.floor(n * 0.3)]!;
const zoomed = [];
for (let i = 0; i < 50; i++) {
	const start = performance.now();
	await window(
		rpm.timeS,
		n,
		from - i * 20,
		from + 600 + i * 20,
		900,
		async (l) => ({ values: levels[l]!, at: 0 }),
		PYRAMID_FACTOR
	);
	zoomed.push(performance.now() - start);
}
if (!Number.isFinite(sink)) throw new Error('nothing summed');
console.log(
	JSON.stringify({
		coldMs,
		warmMs,
		peakMb: highest,
		binMs,
		binRatio,
		zoomMs: zoomed.sort((a, b) => a - b)[25]!
	})
);
